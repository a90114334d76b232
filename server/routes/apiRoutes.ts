import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { endpoints, type EndpointName, type Endpoints } from '@kavrid/contract';
import express, { Router, type Request, type RequestHandler, type Response } from 'express';
import type { z } from 'zod';
import { parsedOr422 } from '../problem.ts';

/** Something to keep as a file, whole or piece by piece. */
export interface Download {
  readonly type: string;
  /** Offered as the name of the file; without one it is shown. */
  readonly name?: string;
  readonly body: string | Readable;
}

type Query<E> = E extends { readonly query: infer Q extends z.ZodType } ? z.output<Q> : Readonly<Record<never, never>>;
type Body<E> = E extends { readonly body: infer B }
  ? B extends z.ZodType
    ? z.output<B>
    : B extends 'application/octet-stream'
      ? Readable
      : string
  : undefined;
type Answer<E> = E extends { readonly answer: infer A }
  ? A extends z.ZodType
    ? z.output<A>
    : A extends 'nothing'
      ? void
      : Download
  : never;

export interface Call<N extends EndpointName> {
  /** What stands in braces in the path. */
  readonly id: string;
  readonly version: number;
  readonly query: Query<Endpoints[N]>;
  readonly body: Body<Endpoints[N]>;
  /** Ends when the client goes away before it is answered. */
  readonly signal: AbortSignal;
}

/** One function for every endpoint of the contract. */
export type Handlers = { readonly [N in EndpointName]: (call: Call<N>) => Promise<Answer<Endpoints[N]>> };

/** Binds the table of endpoints to their handlers: what comes in is checked, what goes out is sent as the table says. */
export function apiRoutes(handlers: Handlers): Router {
  const api = Router();
  for (const name of Object.keys(endpoints) as EndpointName[]) {
    const endpoint = endpoints[name];
    const body = 'body' in endpoint ? endpoint.body : undefined;
    const handle = handlers[name] as (call: unknown) => Promise<unknown>;
    const readers: RequestHandler[] =
      body === undefined || body === 'application/octet-stream'
        ? []
        : typeof body === 'string'
          ? [
              express.text({
                limit: body === 'text/csv' ? '2mb' : '20mb',
                type: [body, 'text/plain', 'application/json', 'text/csv'],
              }),
            ]
          : [express.json({ limit: '1mb', type: 'application/json' })];
    api[endpoint.method](endpoint.path.replace(/\{(\w+)\}/g, ':$1'), ...readers, async (request, response) => {
      const gone = new AbortController();
      response.on('close', () => !response.writableFinished && gone.abort());
      const call = {
        id: request.params.id ?? '',
        version: Number(request.params.version),
        query: 'query' in endpoint ? parsedOr422(endpoint.query, request.query) : {},
        body: bodyOf(body, request),
        signal: gone.signal,
      };
      await send(response, endpoint, await handle(call));
    });
  }
  return api;
}

function bodyOf(wanted: z.ZodType | string | undefined, request: Request): unknown {
  if (wanted === undefined) return undefined;
  if (wanted === 'application/octet-stream') return request;
  if (typeof wanted === 'string') return typeof request.body === 'string' ? request.body : '';
  return parsedOr422(wanted, request.body);
}

async function send(response: Response, { method, answer }: Endpoints[EndpointName], result: unknown): Promise<void> {
  if (answer === 'nothing') return void response.status(204).end();
  if (typeof answer !== 'string') return void response.status(method === 'post' ? 201 : 200).json(result);
  const { type, name, body } = result as Download;
  response.type(type);
  if (name !== undefined) response.attachment(name).type(type);
  if (typeof body === 'string') return void response.send(body);
  // A client that disconnects is not an error.
  await pipeline(body, response).catch(() => response.destroy());
}
