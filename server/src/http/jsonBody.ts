import express, { type NextFunction, type Request, type RequestHandler } from 'express';
import { ProblemException } from './problem.js';
import { jsonShapeProblem } from './jsonShape.js';

/** A message of the longest length in JSON, where each character may be escaped. */
const MAX_BODY_BYTES = 8 * 1024 * 1024;
/** Whoever is not signed in has a passphrase to say, or who they are. */
const MAX_OPEN_BODY_BYTES = 8 * 1024;
/** Where one signs in. All else is refused before its body is read. */
const OPEN_PATH = /^\/api\/session(\/|$)/;
/** By which the parser's error for such a body is known again. */
const SHAPE = 'kiraku.json.shape';

/**
 * Reads JSON bodies once it is known who sends them: of strangers little, and only where they may say something.
 *
 * @param isSignedIn whether a request names an open session
 */
export function jsonBody(isSignedIn: (request: Request) => boolean): RequestHandler {
  const open = express.json({ limit: MAX_OPEN_BODY_BYTES, verify });
  const signedIn = express.json({ limit: MAX_BODY_BYTES, verify });
  return (request, response, next) => {
    if (!hasBody(request)) return next();
    if (isSignedIn(request)) return signedIn(request, response, inWords(next));
    if (OPEN_PATH.test(request.path)) return open(request, response, inWords(next));
    next();
  };
}

/** Most requests only read, and need not be asked who they are twice. */
function hasBody({ headers }: Request): boolean {
  return headers['transfer-encoding'] !== undefined || Number(headers['content-length'] ?? 0) > 0;
}

function verify(_request: unknown, _response: unknown, octets: Buffer): void {
  const problem = jsonShapeProblem(octets);
  if (problem) throw Object.assign(new Error(`${problem} Send less at a time.`), { type: SHAPE });
}

/** The parser makes an error of its own of each; ours are told in our words. */
function inWords(next: NextFunction): NextFunction {
  return (error?: unknown) => {
    const isShape = error instanceof Error && 'type' in error && error.type === SHAPE;
    next(isShape ? new ProblemException(400, 'Not understood', error.message) : error);
  };
}
