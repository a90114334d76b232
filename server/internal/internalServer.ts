import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { DriveSnapshot } from '@kavrid/core/drive';
import type { Evidence } from '@kavrid/core/evidence';
import type { TemporarySetting } from '@kavrid/core/procedure';
import type { DataService, RawRun } from '../port/dataService.ts';
import { reasonOf } from '../reasonOf.ts';
import type { DataEvents } from './dataEvents.ts';

/** ms between two empty lines that say that this process lives */
const lifeTime = 1000;

/**
 * What the port may ask, over a socket of its own that nobody else is let at: one call a request, by its name. `events` is a
 * stream of JSON lines.
 */
export function createInternalServer(data: DataService, events: DataEvents): Server {
  return createServer((request, response) => {
    const name = (request.url ?? '/').slice(1);
    if (name === 'events') return stream(response, events);
    answer(data, name, request).then(
      (result) => response.writeHead(200, { 'content-type': 'application/json' }).end(JSON.stringify(result ?? null)),
      (error: unknown) => response.writeHead(500).end(reasonOf(error)),
    );
  });
}

function stream(response: ServerResponse, events: DataEvents): void {
  response.writeHead(200, { 'content-type': 'application/x-ndjson' });
  response.write('\n');
  const end = events.listen((event) => response.write(`${JSON.stringify(event)}\n`));
  const life = setInterval(() => response.write('\n'), lifeTime);
  response.on('close', () => {
    end();
    clearInterval(life);
  });
}

async function answer(data: DataService, name: string, request: IncomingMessage): Promise<unknown> {
  const pieces: Buffer[] = [];
  for await (const piece of request) pieces.push(piece as Buffer);
  const body = Buffer.concat(pieces);
  if (name === 'keepRun') {
    const run = JSON.parse(decodeURIComponent(String(request.headers['x-run']))) as RawRun;
    // A copy of its own is aligned to four bytes.
    return data.keepRun(run, new Int32Array(new Uint8Array(body).buffer));
  }
  const given = JSON.parse(body.toString()) as Readonly<Record<string, string>> & {
    readonly setting: TemporarySetting;
    readonly evidence: Evidence;
    readonly snapshot: DriveSnapshot;
    readonly isAutomatic: boolean;
  };
  switch (name) {
    case 'member':
      return data.member(given.id ?? '');
    case 'settingsOf':
      return data.settingsOf(given.identity ?? '', given.address ?? '');
    case 'proofOf':
      return data.proofOf(given.memberId ?? '', given.identity ?? '');
    case 'keepEvidence':
      return data.keepEvidence(given.memberId ?? '', given.evidence);
    case 'keepSnapshot':
      return data.keepSnapshot(given.memberId ?? '', given.snapshot, given.isAutomatic);
    case 'remember':
      return data.remember(given.memberId ?? '', given.setting);
    case 'forget':
      return data.forget(given.setting);
    default:
      throw new Error(`There is no call ${name}.`);
  }
}
