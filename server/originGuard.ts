import type { IncomingMessage } from 'node:http';
import type { RequestHandler } from 'express';
import { ProblemError } from './problem.ts';

/**
 * Only pages of this server, opened on this computer, may talk to it: the Host must be a loopback name with our port (so
 * that a foreign name pointed at loopback fails) and an Origin, which browsers send, must be the same.
 */
export function allowedRequest(
  request: Pick<IncomingMessage, 'headers'>,
  port: number,
  moreOrigins: readonly string[] = [],
): boolean {
  const hosts = ['127.0.0.1', 'localhost', '[::1]'].map((name) => `${name}:${port}`);
  const origins = [...hosts.map((host) => `http://${host}`), ...moreOrigins];
  const { host, origin } = request.headers;
  const knownHost = hosts.includes(host ?? '') || moreOrigins.includes(`http://${host ?? ''}`);
  return knownHost && (origin === undefined || origins.includes(origin));
}

/** Refuses what {@link allowedRequest} does not allow, and bodies that are not declared as what they must be. */
export const originGuard =
  (port: () => number, moreOrigins: readonly string[]): RequestHandler =>
  (request, _response, next) => {
    if (!allowedRequest(request, port(), moreOrigins)) {
      throw new ProblemError(403, 'This server answers only its own pages on this computer.');
    }
    const hasBody = request.method === 'POST' || request.method === 'PUT';
    const { 'content-length': length, 'transfer-encoding': encoding } = request.headers;
    const isEmpty = encoding === undefined && (length === undefined || length === '0');
    if (hasBody && !isEmpty && !request.is(['application/json', 'text/csv', 'text/plain', 'application/octet-stream']))
      throw new ProblemError(415, 'Send application/json.');
    next();
  };
