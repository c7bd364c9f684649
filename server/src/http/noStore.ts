import type { RequestHandler } from 'express';

/** What the API answers is personal: no cache keeps it (RFC 9111, section 5.2.2.5), unless a route says otherwise. */
export const noStore: RequestHandler = (request, response, next) => {
  if (request.path.startsWith('/api/')) response.setHeader('Cache-Control', 'no-store');
  next();
};
