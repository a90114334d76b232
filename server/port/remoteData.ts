import { request } from 'node:http';
import { createInterface } from 'node:readline';
import { setTimeout as pause } from 'node:timers/promises';
import type { Evidence } from '@kavrid/core/evidence';
import type { DataEvent, DataService } from './dataService.ts';

/** ms after which a call is given up, and after which a stream that says nothing counts as lost */
const callTime = 5000;
const runTime = 60_000;
const silence = 5000;

function call<T>(socketPath: string, name: string, body: string | Buffer, time: number, run?: object): Promise<T> {
  return new Promise((resolve, reject) => {
    const headers = {
      'content-length': Buffer.byteLength(body),
      ...(run ? { 'x-run': encodeURIComponent(JSON.stringify(run)) } : {}),
    };
    const asked = request({ socketPath, path: `/${name}`, method: 'POST', headers }, (response) => {
      const pieces: Buffer[] = [];
      response.on('data', (piece: Buffer) => pieces.push(piece));
      response.on('error', reject);
      response.on('end', () => {
        const text = Buffer.concat(pieces).toString();
        if (response.statusCode === 200) resolve(JSON.parse(text) as T);
        else reject(new Error(text));
      });
    });
    asked.setTimeout(time, () => asked.destroy(new Error('the data process does not respond')));
    asked.on('error', reject);
    asked.end(body);
  });
}

/** The data process, over its Unix socket. */
export function remoteData(socketPath: string): DataService {
  const ask = <T>(name: string, given: object) => call<T>(socketPath, name, JSON.stringify(given), callTime);
  return {
    member: async (id) => (await ask<Awaited<ReturnType<DataService['member']>> | null>('member', { id })) ?? undefined,
    settingsOf: (identity, address) => ask('settingsOf', { identity, address }),
    remember: (memberId, setting) => ask('remember', { memberId, setting }),
    forget: (setting) => ask('forget', { setting }),
    proofOf: async (memberId, identity) =>
      (await ask<Evidence<'drive values'> | null>('proofOf', { memberId, identity })) ?? undefined,
    keepEvidence: (memberId, evidence) => ask('keepEvidence', { memberId, evidence }),
    keepSnapshot: (memberId, snapshot, isAutomatic) => ask('keepSnapshot', { memberId, snapshot, isAutomatic }),
    keepRun: (run, samples) =>
      call(socketPath, 'keepRun', Buffer.from(samples.buffer, samples.byteOffset, samples.byteLength), runTime, run),
  };
}

/** Follows the events of the data process until aborted. `back` is called at each connection of the stream. */
export async function followData(
  socketPath: string,
  heard: (event: DataEvent) => void,
  back: () => void,
  signal: AbortSignal,
): Promise<void> {
  while (!signal.aborted) {
    await oneStream(socketPath, heard, back, signal).catch(() => undefined);
    await pause(200, undefined, { signal }).catch(() => undefined);
  }
}

function oneStream(
  socketPath: string,
  heard: (event: DataEvent) => void,
  back: () => void,
  signal: AbortSignal,
): Promise<void> {
  return new Promise((resolve) => {
    const asked = request({ socketPath, path: '/events', signal }, (response) => {
      back();
      const lines = createInterface({ input: response });
      lines.on('error', () => resolve());
      lines.on('line', (line) => line !== '' && heard(JSON.parse(line) as DataEvent));
      response.on('error', () => resolve());
      response.on('close', () => resolve());
    });
    asked.setTimeout(silence, () => asked.destroy());
    asked.on('error', () => resolve());
    asked.end();
  });
}
