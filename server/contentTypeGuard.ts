import type { RequestHandler } from 'express';
import { ProblemError } from './problem.ts';

/** Refuses bodies that are not declared as what they must be. */
export const contentTypeGuard: RequestHandler = (request, _response, next) => {
  const hasBody = request.method === 'POST' || request.method === 'PUT';
  const { 'content-length': length, 'transfer-encoding': encoding } = request.headers;
  const isEmpty = encoding === undefined && (length === undefined || length === '0');
  if (hasBody && !isEmpty && !request.is(['application/json', 'text/csv', 'text/plain', 'application/octet-stream']))
    throw new ProblemError(415, 'Send application/json.');
  next();
};
