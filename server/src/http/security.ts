import { randomBytes } from 'node:crypto';
import type { NextFunction, Request, RequestHandler, Response } from 'express';
import helmet from 'helmet';
import type { Config } from '../environment/config.js';
import { ProblemException } from './problem.js';

/**
 * Security headers of the desk. Scripts and style sheets only from here or with this answer's nonce; no frames but
 * our own (the messages), nothing from elsewhere.
 *
 * @param config where the public site is
 */
export function securityHeaders({ publicUrl }: Pick<Config, 'publicUrl'>): RequestHandler[] {
  const nonce: RequestHandler = (_request, response, next) => {
    response.locals['nonce'] = randomBytes(16).toString('base64');
    next();
  };
  const headers = helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'none'"],
        scriptSrc: ["'self'"],
        styleSrc: ["'self'", (_request, response) => `'nonce-${(response as Response).locals['nonce']}'`],
        // Components place themselves with style attributes; a style attribute runs nothing.
        styleSrcAttr: ["'unsafe-inline'"],
        fontSrc: ["'self'"],
        imgSrc: ["'self'", 'data:'],
        // Whether the browser reaches the public address is for it to find out.
        connectSrc: ["'self'", `${publicUrl}/health`],
        frameSrc: ["'self'"],
        manifestSrc: ["'self'"],
        baseUri: ["'none'"],
        formAction: ["'self'"],
        frameAncestors: ["'none'"],
      },
    },
    referrerPolicy: { policy: 'no-referrer' },
    // Set by the TLS proxy in front, who knows whether the whole domain is served over TLS.
    strictTransportSecurity: false,
  });
  return [nonce, headers];
}

/**
 * Refuses changes that another site's page asks a signed-in browser for. Browsers name the origin of every request
 * that is not a plain read (Fetch standard, “Origin header”); scripts outside a browser send none, and hold no cookie
 * they were not given.
 */
export function sameOriginOnly(request: Request, _response: Response, next: NextFunction): void {
  if (request.method === 'GET' || request.method === 'HEAD') return next();
  const origin = request.headers.origin;
  const site = request.headers['sec-fetch-site'];
  const foreign = origin !== undefined ? hostOf(origin) !== request.headers.host : site === 'cross-site';
  if (!foreign) return next();
  next(
    new ProblemException(
      403,
      'Refused',
      'This request came from another site. Open Kiraku itself and repeat it there.',
    ),
  );
}

function hostOf(origin: string): string | null {
  return URL.canParse(origin) ? new URL(origin).host : null;
}
