import { brokenText, brokenTextWords, type Problem } from '@kavrid/contract';
import type { ErrorRequestHandler, RequestHandler, Response } from 'express';
import type { z } from 'zod';

/** An answer that is not a success: RFC 9457 problem details. */
export class ProblemError extends Error {
  readonly problem: Problem;

  /** @param more further members, such as the newest record of what was saved too late */
  constructor(status: number, title: string, more: Partial<Problem> & Readonly<Record<string, unknown>> = {}) {
    super(title);
    this.problem = { type: 'about:blank', title, status, ...more };
  }
}

/** The input, parsed by its schema. @throws ProblemError 422 that names each wrong field. */
export function parsedOr422<T extends z.ZodType>(schema: T, body: unknown): z.output<T> {
  const broken = brokenText(body);
  if (broken !== undefined)
    throw new ProblemError(422, 'Some fields cannot be saved as they are.', {
      errors: [{ pointer: broken, detail: brokenTextWords }],
    });
  const parsed = schema.safeParse(body);
  if (parsed.success) return parsed.data;
  const errors = parsed.error.issues.slice(0, 50).map((issue) => ({
    pointer: `/${issue.path.join('/')}`,
    detail: issue.message,
  }));
  throw new ProblemError(422, 'Some fields cannot be saved as they are.', { errors });
}

export const notFound = (what: string): ProblemError => new ProblemError(404, `There is no such ${what}.`);

export const unknownRoute: RequestHandler = () => {
  throw notFound('address');
};

const databaseCodes = new Set([
  'ECONNREFUSED',
  'ECONNRESET',
  'PROTOCOL_CONNECTION_LOST',
  'ETIMEDOUT',
  'ENOENT',
  'EPIPE',
  'ER_SERVER_SHUTDOWN',
  'POOL_CLOSED',
]);

/** The database is there but cannot write: a full disk or table, a failed write, or a server set to read only. */
const refusedWrites = new Set([
  'ER_DISK_FULL',
  'ER_RECORD_FILE_FULL',
  'ER_ERROR_ON_WRITE',
  'ER_CANT_LOCK',
  'ER_OPTION_PREVENTS_STATEMENT',
  'ER_LOCK_WAIT_TIMEOUT',
  'ENOSPC',
]);

/** Turns any error into problem details; an unforeseen one is logged and reported as 500 without its details. */
export const answerProblem: ErrorRequestHandler = (error: unknown, _request, response, next) => {
  if (response.headersSent) return next(error);
  if (error instanceof ProblemError) return send(response, error.problem);
  const known = error as { type?: string; status?: number; code?: string; driverError?: { code?: string } };
  if (known.type === 'entity.too.large')
    return send(response, { type: 'about:blank', status: 413, title: 'The request is too large.' });
  if (known.type === 'entity.parse.failed')
    return send(response, { type: 'about:blank', status: 400, title: 'The request is not valid JSON.' });
  if (typeof known.status === 'number' && known.status >= 400 && known.status < 500) {
    return send(response, { type: 'about:blank', status: known.status, title: 'The request cannot be read.' });
  }
  const code = known.driverError?.code ?? known.code ?? '';
  if (refusedWrites.has(code)) {
    return send(response, {
      type: 'about:blank',
      status: 507,
      title: 'The database cannot write.',
      detail: `Its disk may be full, or it is set to read only (${code}). Nothing has been saved; your edits are kept in this window.`,
    });
  }
  if (databaseCodes.has(code)) {
    return send(response, {
      type: 'about:blank',
      status: 503,
      title: 'The database does not respond.',
      detail: 'Nothing has been saved. Your edits are kept in this window and saved when it is back.',
    });
  }
  console.error(error);
  send(response, { type: 'about:blank', status: 500, title: 'Something went wrong in the server.' });
};

function send(response: Response, problem: Problem): void {
  response.status(problem.status).type('application/problem+json').send(JSON.stringify(problem));
}
