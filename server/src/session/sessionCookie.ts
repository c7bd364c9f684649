import type { CookieOptions, Response } from 'express';
import { SESSION_COOKIE } from '../http/cookies.js';
import { MAX_SESSION_MS } from './session.service.js';

/** Signs a browser in. @param secure whether it came over TLS; on loopback without it the cookie would not be kept */
export function setSessionCookie(response: Response, token: string, secure: boolean): void {
  response.cookie(SESSION_COOKIE, token, { ...optionsOf(secure), maxAge: MAX_SESSION_MS });
}

/** Signs it out. */
export function clearSessionCookie(response: Response, secure: boolean): void {
  response.clearCookie(SESSION_COOKIE, optionsOf(secure));
}

function optionsOf(secure: boolean): CookieOptions {
  return { httpOnly: true, sameSite: 'strict', path: '/', secure };
}
