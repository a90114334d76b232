import { endpoints, newEntry, problemSchema, type EndpointName } from '@kavrid/contract';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { isProof, recordProof } from '@kavrid/bench/test/proof.ts';
import { demoAxis, useServer } from './test/testServer.ts';

const test = useServer();
let requests = 0;
afterAll(() => recordProof('requests made by a generator, none answered with 5xx', { requests }));
const machine = { name: 'M', notes: '', tags: [], archived: false };

const item = newEntry('motor', 'M');

/** A body that is right for each endpoint that takes one, to spoil. */
const bodies: Partial<Record<EndpointName, unknown>> = {
  createMachine: { author: '', document: machine },
  saveMachine: { version: 1, author: '', document: machine },
  duplicateMachine: { author: '', name: 'x' },
  takeImport: { author: '', how: 'merge', conflicts: 'file' },
  createAxis: { author: '', document: demoAxis },
  saveAxis: { version: 1, author: '', document: demoAxis },
  duplicateAxis: { author: '', name: 'x' },
  nameRevision: { name: 'x' },
  restoreRevision: { version: 1, author: '' },
  createEntry: { author: '', item },
  saveEntry: { version: 1, author: '', item, axes: [] },
  entryEffects: { item },
};

/** Values that programs stumble over. */
const awkward = fc.oneof(
  fc.constantFrom<unknown>(
    null,
    true,
    0,
    -1,
    1e308,
    -0,
    2 ** 53,
    '',
    ' ',
    '\u0000',
    '\ud800',
    '../../x',
    "'; DROP TABLE axis; --",
    '{{7*7}}',
    '%s%n',
    '🦊'.repeat(50),
    [],
    {},
    [[]],
    { __proto__: 1 },
    'NaN',
    '1e999',
  ),
  fc.jsonValue({ maxDepth: 3 }),
  fc.string({ maxLength: 200 }),
  fc.constant('x'.repeat(5000)),
);

/** A right body with some of its places spoilt. */
const spoilt = (right: unknown): fc.Arbitrary<unknown> =>
  fc.array(fc.tuple(fc.nat(), awkward), { minLength: 1, maxLength: 4 }).map((changes) => {
    const copy = { root: structuredClone(right) } as Record<string, unknown>;
    for (const [choice, value] of changes) {
      let [at, key]: [Record<string, unknown>, string] = [copy, 'root'];
      for (
        let depth = choice;
        typeof at[key] === 'object' && at[key] !== null && depth % 3 !== 0;
        depth = Math.floor(depth / 3)
      ) {
        const inner = at[key] as Record<string, unknown>;
        const keys = Object.keys(inner);
        const next = keys[depth % Math.max(1, keys.length)];
        if (next === undefined) break;
        [at, key] = [inner, next];
      }
      at[key] = value;
    }
    return copy.root;
  });

/** Ids of things that are there. */
const real: string[] = [];
beforeAll(async () => {
  for (let k = 0; k < 3; k++) {
    const axis = await test.addAxis(demoAxis);
    const entry = await test.store.library.create(item, { author: '' });
    real.push(axis.id, axis.machineId, entry.id);
  }
});

const ids = fc.oneof(
  fc.nat().map((n) => real[n % real.length] ?? ''),
  fc.constantFrom('1', '2'),
  fc.constantFrom('nobody', '%00', '..', '%2e%2e%2f', "'%20OR%201=1", '0', 'x'.repeat(300), '🦊', '%F0%9F', '%'),
  fc.string({ minLength: 1, maxLength: 30 }).map(encodeURIComponent),
);
const safely = (text: string) => {
  try {
    return encodeURIComponent(text);
  } catch {
    return 'x';
  }
};
const query = fc
  .array(
    fc.tuple(
      fc.constantFrom(
        'page',
        'size',
        'search',
        'tag',
        'sort',
        'order',
        'archived',
        'shelf',
        'as',
        'named',
        'runs',
        'revisions',
        'ticket',
        'author',
        'x',
      ),
      fc.string({ maxLength: 40 }),
    ),
    { maxLength: 4 },
  )
  .map((pairs) => pairs.map(([name, value]) => `${name}=${safely(value)}`).join('&'));

describe('whatever comes in', () => {
  it.each(Object.entries(endpoints))(
    '%s answers as the contract says, never with a failure of its own',
    { timeout: isProof ? 900_000 : 120_000 },
    async (name, endpoint) => {
      const wanted = 'body' in endpoint ? endpoint.body : undefined;
      const right = bodies[name as EndpointName];
      const body =
        wanted === undefined
          ? fc.constant(undefined)
          : typeof wanted === 'string'
            ? fc.oneof(fc.string({ maxLength: 500 }), awkward.map(String))
            : fc.oneof(
                awkward.map((value) => JSON.stringify(value)),
                ...(right === undefined
                  ? []
                  : [spoilt(right).map((value) => JSON.stringify(value)), fc.constant(JSON.stringify(right))]),
                fc.string({ maxLength: 100 }),
              );
      const type = typeof wanted === 'string' ? wanted : 'application/json';
      await fc.assert(
        fc.asyncProperty(ids, ids, query, body, async (id, version, words, content) => {
          const path = endpoint.path.replace('{id}', id).replace('{version}', version);
          const answer = await fetch(`${test.base}${path}?${words}`, {
            method: endpoint.method.toUpperCase(),
            ...(content === undefined ? {} : { body: content, headers: { 'content-type': type } }),
          });
          requests++;
          const text = await answer.text();
          expect(answer.status < 500 ? 'answered' : `${answer.status} ${text}`).toBe('answered');
          if (answer.status >= 400) {
            expect(answer.headers.get('content-type')).toContain('application/problem+json');
            expect(problemSchema.safeParse(JSON.parse(text)).success).toBe(true);
          } else if (endpoint.answer instanceof z.ZodType) {
            const parsed = endpoint.answer.safeParse(JSON.parse(text));
            expect(parsed.error?.issues ?? []).toEqual([]);
          }
        }),
        // Reading a file takes a process of its own.
        { numRuns: name === 'startImport' ? (isProof ? 40 : 4) : isProof ? 400 : 30 },
      );
      expect((await test.send('GET', '/health')).status).toBe(200);
    },
  );
});
