import { randomBytes } from 'node:crypto';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { AxisDocument, AxisRecord, MachineRecord } from '@kavrid/contract';
import { patientTiming } from '@kavrid/core/procedure';
import { DataSource } from 'typeorm';
import { afterAll, beforeAll, inject } from 'vitest';
import { createServer } from '../createServer.ts';
import { connectDatabase } from '../database/connectDatabase.ts';
import { Store } from '../database/store.ts';
import { createInternalServer } from '../internal/internalServer.ts';
import { storeData } from '../internal/storeData.ts';
import { listenOn } from '../listenOn.ts';
import { createPortServer, type PortServer } from '../port/portServer.ts';
import { remoteData } from '../port/remoteData.ts';

declare module 'vitest' {
  interface ProvidedContext {
    databaseUrl: string;
  }
}

export { demoAxis, demoSpindle } from './demoMembers.ts';

/** A new, empty database beside the one that the tests were given. @returns its address */
export async function newDatabase(): Promise<string> {
  const url = new URL(inject('databaseUrl'));
  const name = `kavrid_${randomBytes(6).toString('hex')}`;
  const source = await new DataSource({ type: 'mariadb', url: url.href }).initialize();
  await source.query(`CREATE DATABASE ${name} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci`);
  await source.destroy();
  url.pathname = `/${name}`;
  return url.href;
}

export interface TestServer {
  readonly url: string;
  readonly store: Store;
  readonly server: PortServer;
  /** Ends the data process alone, as if it had died. */
  readonly endData: () => Promise<void>;
  readonly port: number;
  readonly base: string;
  readonly send: <T>(method: string, path: string, body?: unknown) => Promise<Answer<T>>;
  readonly newMachine: (name?: string) => Promise<MachineRecord>;
  readonly addAxis: (document: AxisDocument, machineId?: string) => Promise<AxisRecord>;
  readonly saveAxis: (axis: AxisRecord, change: Partial<AxisDocument>, author?: string) => Promise<Answer<AxisRecord>>;
}

export interface Answer<T> {
  readonly status: number;
  readonly body: T;
  readonly type: string;
}

export async function startServer(url: string): Promise<TestServer & { readonly stop: () => Promise<void> }> {
  const store = new Store(await connectDatabase(url));
  const folder = mkdtempSync(join(tmpdir(), 'kavrid-test-'));
  const [publicSocket, internalSocket] = [join(folder, 'data'), join(folder, 'internal')];
  const { http, events } = createServer({ store, importFolder: join(folder, 'imports') });
  const internal = createInternalServer(storeData(store), events);
  await listenOn(internal, internalSocket);
  await listenOn(http, publicSocket);
  const server = createPortServer({
    data: remoteData(internalSocket),
    publicSocket,
    internalSocket,
    // Server, bench and windows share a computer that others use too.
    timing: patientTiming(30),
  });
  await new Promise<void>((resolve) => server.http.listen(0, '127.0.0.1', resolve));
  const address = server.http.address();
  const port = typeof address === 'object' && address ? address.port : 0;
  const base = `http://127.0.0.1:${port}/api`;
  const send = async <T>(method: string, path: string, body?: unknown): Promise<Answer<T>> => {
    const response = await fetch(`${base}${path}`, {
      method,
      ...(body === undefined ? {} : { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
    });
    const text = await response.text();
    const isJson = response.headers.get('content-type')?.includes('json');
    return {
      status: response.status,
      body: (text && isJson ? JSON.parse(text) : text) as T,
      type: response.headers.get('content-type') ?? '',
    };
  };
  const newMachine = async (name = 'Cell') =>
    (
      await send<MachineRecord>('POST', '/machines', {
        author: 'test',
        document: { name, notes: '', tags: [], archived: false },
      })
    ).body;
  const addAxis = async (document: AxisDocument, machineId?: string) =>
    (
      await send<AxisRecord>('POST', `/machines/${machineId ?? (await newMachine()).id}/axes`, {
        author: 'test',
        document,
      })
    ).body;
  const saveAxis: TestServer['saveAxis'] = (axis, change, author = 'test') =>
    send('PUT', `/axes/${axis.id}`, { version: axis.version, author, document: { ...axis.document, ...change } });
  const endData = async () => {
    for (const each of [http, internal]) {
      each.closeAllConnections();
      if (each.listening) await new Promise((resolve) => each.close(resolve));
    }
  };
  const stop = async () => {
    await server.close();
    await endData();
    await store.close();
  };
  return { url, store, server, endData, port, base, send, newMachine, addAxis, saveAxis, stop };
}

/** The whole server on a database of its own, for the tests of one file. */
export function useServer(): TestServer {
  const test = {} as { -readonly [K in keyof TestServer]: TestServer[K] };
  let stop: () => Promise<void> = () => Promise.resolve();
  beforeAll(async () => {
    const started = await startServer(await newDatabase());
    stop = started.stop;
    Object.assign(test, started);
  });
  afterAll(() => stop());
  return test;
}
