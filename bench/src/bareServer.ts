import { createServer } from 'node:http';

/* Returns the same image and the same redirect as the public site, with the same headers, and records nothing. */
const IMAGE = Buffer.from('R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7', 'base64');
const IMAGE_HEADERS = {
  'Content-Type': 'image/gif',
  'Content-Length': IMAGE.length,
  'Cache-Control': 'no-store, no-cache, must-revalidate, private, max-age=0',
  Pragma: 'no-cache',
  Expires: '0',
  'Cross-Origin-Resource-Policy': 'cross-origin',
  'X-Content-Type-Options': 'nosniff',
};

const REDIRECT_HEADERS = {
  'Content-Length': 0,
  'Cache-Control': 'no-store',
  'Referrer-Policy': 'no-referrer',
  'X-Robots-Tag': 'noindex',
};

createServer((request, response) => {
  if (request.url!.startsWith('/i/')) return void response.writeHead(200, IMAGE_HEADERS).end(IMAGE);
  response.writeHead(302, { ...REDIRECT_HEADERS, Location: 'https://tallowreed.example/felt' }).end();
}).listen(Number(process.argv[2]), '127.0.0.1');
