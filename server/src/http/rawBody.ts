import express, { type Request, type Response } from 'express';

/**
 * Reads a request's body as it is.
 *
 * @param limit in bytes; more is refused with 413
 */
export async function rawBody(request: Request, response: Response, limit: number): Promise<Buffer> {
  const read = express.raw({ type: () => true, limit });
  await new Promise<void>((resolve, reject) =>
    read(request, response, (error?: unknown) => (error ? reject(error as Error) : resolve())),
  );
  return Buffer.isBuffer(request.body) ? request.body : Buffer.alloc(0);
}
