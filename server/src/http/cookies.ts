import { parseCookie } from 'cookie';
import type { Request } from 'express';

export const SESSION_COOKIE = 'kiraku_session';

/** The token of the session that a request names; undefined where it names none (RFC 6265, section 5.4). */
export function sessionToken({ headers }: Pick<Request, 'headers'>): string | undefined {
  return headers.cookie === undefined ? undefined : parseCookie(headers.cookie)[SESSION_COOKIE];
}
