import type { NextFunction, Request, RequestHandler, Response } from 'express';
import { isIPv4 } from 'node:net';
import type { Config } from '../environment/config.js';
import { ProblemException } from './problem.js';

const ANY_ADDRESS = new Set(['0.0.0.0', '::', '[::]']);

/**
 * Refuses requests for any name but the desk's own: a page elsewhere can point a name of its own at this machine, and
 * would be of the same origin as the desk then ("DNS rebinding"). RFC 9110, section 7.4: 421 where the target is not ours.
 */
export function ownHostsOnly(config: Pick<Config, 'host' | 'deskUrls'>): RequestHandler {
  const names = new Set([
    ...(ANY_ADDRESS.has(config.host) ? [] : [config.host.toLowerCase()]),
    ...config.deskUrls.map((url) => new URL(url).hostname),
  ]);
  return (request: Request, _response: Response, next: NextFunction) => {
    const name = hostName(request.headers.host);
    if (name !== null && (isLoopback(name) || names.has(name))) return next();
    next(
      new ProblemException(
        421,
        'Not this name',
        'Kiraku cannot be reached to this name. If you reach it by this name, set KIRAKU_URL to its address, for example https://desk.company.example, and start it again.',
      ),
    );
  };
}

/** Whether a request came by one of the desk's addresses that are served over TLS. */
export function isOverTls(request: Request, { deskUrls }: Pick<Config, 'deskUrls'>): boolean {
  const name = hostName(request.headers.host);
  return request.secure || deskUrls.some((url) => url.startsWith('https:') && new URL(url).hostname === name);
}

/** The name in a Host header, without its port; null for what is none. */
function hostName(host: string | undefined): string | null {
  if (host === undefined || /[\s/?#@\\]/.test(host)) return null;
  return URL.canParse(`http://${host}`) ? new URL(`http://${host}`).hostname : null;
}

function isLoopback(name: string): boolean {
  return (
    name === 'localhost' || name.endsWith('.localhost') || name === '[::1]' || (isIPv4(name) && name.startsWith('127.'))
  );
}
