import { Catch, HttpException, Logger, type ArgumentsHost, type ExceptionFilter } from '@nestjs/common';
import type { Request, Response } from 'express';
import type { Problem } from '@kiraku/core/contract';

/** Words for what the framework itself refuses, by status. */
const DETAILS: Record<number, [title: string, detail: string]> = {
  400: ['Not understood', 'The request was not understood. Load the page again and repeat it.'],
  404: ['Not found', 'There is nothing at this address.'],
  413: ['Too large', 'This is too large. Make it smaller and try again.'],
  415: ['Wrong kind', 'Send JSON with the content type application/json.'],
};

/** Every error leaves as problem details (RFC 9457); what a person cannot have caused is logged with its context. */
@Catch()
export class ProblemFilter implements ExceptionFilter {
  private readonly logger = new Logger('Http');

  catch(error: unknown, host: ArgumentsHost): void {
    const http = host.switchToHttp();
    const response = http.getResponse<Response>();
    const problem = this.problemOf(error, http.getRequest<Request>());
    if (response.headersSent) return void response.end();
    response.status(problem.status).type('application/problem+json').send(JSON.stringify(problem));
  }

  private problemOf(error: unknown, request: Request): Problem {
    const body = error instanceof HttpException ? error.getResponse() : null;
    if (body && typeof body === 'object' && 'detail' in body) return body as Problem;
    const status = statusOf(error);
    if (status < 500) {
      const [title, detail] = DETAILS[status] ?? ['Refused', 'The request was refused.'];
      return { type: 'about:blank', title, status, detail };
    }
    this.logger.error(`${request.method} ${request.path}`, error instanceof Error ? error.stack : String(error));
    const detail = 'Something went wrong in Kiraku; the details are in its log. Nothing was changed. Try again.';
    return { type: 'about:blank', title: 'Our mistake', status: 500, detail };
  }
}

/** Express marks what its body parsers refuse with a status of its own. */
function statusOf(error: unknown): number {
  if (error instanceof HttpException) return error.getStatus();
  const status = (error as { status?: unknown } | null)?.status;
  return typeof status === 'number' && status >= 400 && status < 500 ? status : 500;
}
