import { createServer } from 'node:http';
import { image, redirect } from '@kiraku/server/publicSite/responses';

/* Answers as the public site does, and records nothing. */
createServer((request, response) => {
  if (request.url!.startsWith('/i/')) image(request, response);
  else redirect(request, response, 'https://tallowreed.example/felt');
}).listen(Number(process.argv[2]), '127.0.0.1');
