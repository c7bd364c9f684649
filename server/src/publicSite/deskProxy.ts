import { request as ask, type IncomingMessage, type ServerResponse } from 'node:http';
import type { Config } from '../environment/config.js';
import { reachedHost } from '../environment/reachedHost.js';
import { plainEnglish } from './publicPages.js';

/** What belongs to one connection, and is not passed on (RFC 9110, section 7.6.1); and who forwards is said by us. */
const NOT_PASSED_ON = new Set([
  'connection',
  'keep-alive',
  'proxy-connection',
  'te',
  'upgrade',
  'forwarded',
  'x-forwarded-for',
]);

/** Passes a request on to the desk, says for whom, and passes back what it responds. */
export function passToDesk(
  { host, port }: Pick<Config, 'host' | 'port'>,
  request: IncomingMessage,
  response: ServerResponse,
): void {
  const onward = ask({
    host: reachedHost(host),
    port,
    method: request.method,
    path: request.url,
    headers: {
      ...passedOn(request.headers),
      'x-forwarded-for': request.socket.remoteAddress,
      'x-forwarded-proto': 'https',
    },
  });
  onward.once('response', (answer) => {
    response.writeHead(answer.statusCode!, passedOn(answer.headers));
    answer.pipe(response);
  });
  onward.once('error', () => {
    if (response.headersSent) response.destroy();
    else plainEnglish(response, 502, 'Kiraku is being started. Please try again in a moment.');
  });
  // Whoever leaves, and the desk that ends in the middle, leave nothing open.
  response.once('close', () => onward.destroy());
  request.pipe(onward);
}

function passedOn(headers: IncomingMessage['headers']): IncomingMessage['headers'] {
  return Object.fromEntries(Object.entries(headers).filter(([name]) => !NOT_PASSED_ON.has(name)));
}
