import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { Validator } from '@seriousme/openapi-schema-validator';
import { Ajv2020 } from 'ajv/dist/2020.js';
import formats from 'ajv-formats';
import { evaluateAxis } from '@kavrid/core/chain';
import { exact, toNumber } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';
import { describe, expect, it } from 'vitest';
import { withValueAt } from '../changes/index.ts';
import type { AxisDocument } from '../documents.ts';
import { endpoints } from '../endpoints.ts';
import { machineFileJsonSchema, openApi } from '../openApi.ts';
import { axisInputOf } from '../toCore/axisInputOf.ts';
import { canonicalJson, fileVersion, readMachineFile, type MachineFile } from './index.ts';

const file = (path: string) => readFileSync(new URL(path, import.meta.url), 'utf8');
const sha256 = (text: string) => createHash('sha256').update(text).digest('hex');
const read = (value: unknown) =>
  readMachineFile(new TextEncoder().encode(typeof value === 'string' ? value : JSON.stringify(value)), sha256);
const problemsOf = (value: unknown) => {
  const reading = read(value);
  return reading.kind === 'refused'
    ? reading.problems.map(({ pointer, detail }) => `${pointer} ${detail}`).join('\n')
    : '';
};
const demo = JSON.parse(file('../../demo/tile-glazing-cell.json')) as MachineFile;

/** Up to version 9 what home reads was called its offset. */
const withPositionAtHome = (document: object): object => {
  const { homing, ...rest } = document as { homing?: { homeOffset?: number } };
  if (!homing) return document;
  const { homeOffset, ...others } = homing;
  return { ...rest, homing: { ...others, positionAtHome: homeOffset } };
};

describe('machine files', () => {
  it('of version 1 are brought to the present one, with every value as it was', () => {
    const old = JSON.parse(file('../test/machine-file-1.json')) as {
      machine: object;
      axes: { motor: object; gear: object }[];
    };
    const reading = read(old);
    if (reading.kind !== 'file') throw new Error(JSON.stringify(reading.problems));
    expect(reading.file.machine.document).toEqual({ ...old.machine, tags: [], archived: false });
    const [axis] = reading.file.axes;
    expect(axis?.document.motor).toMatchObject({ ...old.axes[0]?.motor, form: 'rotary', entry: null });
    expect(axis?.document).toMatchObject({ gear: old.axes[0]?.gear });
  });

  it('of 0.5.0 stay readable: an axis and a spindle, value for value', () => {
    const old = JSON.parse(file('../test/machine-file-4.json')) as { axes: { document: object }[] };
    const reading = read(old);
    if (reading.kind !== 'file') throw new Error(JSON.stringify(reading.problems));
    expect(reading.file.axes.map(({ document }) => document.kind)).toEqual(['axis', 'spindle']);
    expect(reading.file.axes.map(({ document }) => document)).toMatchObject(
      old.axes.map(({ document }) => withPositionAtHome(document)),
    );
  });

  it.each([
    ['direct', 0, { minimumInputDuration: 0, startDelay: 0 }],
    ['debounced', 0.01, { minimumInputDuration: 0.01, startDelay: 0 }],
    ['delayed', 0.02, { minimumInputDuration: 0, startDelay: 0.02 }],
  ])('of version 4: inputs that counted %s have a time each way, and commas are points', (kind, time, times) => {
    const { sha256: _, ...old } = JSON.parse(file('../test/machine-file-4.json')) as {
      sha256?: string;
      axes: { document: Record<string, unknown> }[];
    };
    const [carriage] = old.axes;
    if (!carriage) throw new Error('the file has an axis');
    const move = { pattern: '1', name: 'Press', target: null, fence: null, speed: 10, acceleration: null };
    carriage.document.name = 'Carriage 1,250';
    carriage.document.wanted = { ...(carriage.document.wanted as object), resolution: '0,005 mm' };
    carriage.document.command = {
      kind: 'choice',
      inverted: false,
      inputs: ['IN1'],
      storedMoves: 2,
      moves: [{ ...move, kind: 'push to torque', deceleration: null, torqueLimit: 40, window: 1 }],
      edges: [],
      torqueInputs: [],
      torqueLimits: [],
      trigger: { kind, time },
      skew: 0.005,
      homing: 'never',
      patternAtEnable: '0',
    };
    const reading = read(old);
    if (reading.kind !== 'file') throw new Error(JSON.stringify(reading.problems));
    expect(reading.file.axes[0]?.document).toMatchObject({
      name: 'Carriage 1,250',
      wanted: { resolution: '0.005 mm' },
      unread: {},
      link: { kind: 'tcp' },
      command: {
        ...times,
        nothing: 'not known',
        signalUnit: 'V',
        moves: [{ kind: 'move until torque', torqueLimit: 40 }],
      },
    });
  });

  it('of version 12 get gains, trials, waiting set-points and limits of spindles that are not entered yet', () => {
    const { sha256: _, ...old } = structuredClone(demo) as { sha256?: string; axes: { document: object }[] };
    const named = (name: string) => {
      const found = old.axes.find(({ document }) => (document as { name: string }).name === name);
      if (!found) throw new Error(`the demo has no ${name}`);
      return found;
    };
    const [carriage, table, grinder] = [named('Carriage'), named('Turntable'), named('Edge grinder')];
    const strip = (axis: { document: object }) => {
      const { settings, tuning, moves, ...rest } = axis.document as AxisDocument;
      const { accelerationFeedforward, torqueFilter, notchFrequency, notchWidth, notchDepth, ...gains } = settings;
      const { trial, ...tuned } = tuning;
      const { wait, ...others } = moves;
      expect([accelerationFeedforward, torqueFilter, notchFrequency, notchWidth, notchDepth]).not.toContain(undefined);
      expect([trial, wait]).not.toContain(undefined);
      axis.document = { ...rest, settings: gains, tuning: tuned, moves: others };
    };
    [carriage, table].forEach(strip);
    const analog = table.document as { command: { loop: Record<string, unknown> } };
    delete analog.command.loop.integralGain;
    delete analog.command.loop.velocityFeedforward;
    const { acceptance, ...spindle } = grinder.document as { acceptance?: object };
    expect(acceptance).toBeDefined();
    grinder.document = spindle;
    const reading = read({ ...old, formatVersion: 12 });
    if (reading.kind !== 'file') throw new Error(JSON.stringify(reading.problems));
    const now = (name: string) => reading.file.axes.find(({ document }) => document.name === name)?.document;
    expect(now('Carriage')).toMatchObject({
      settings: { positionGain: 40, accelerationFeedforward: null, notchFrequency: null },
      tuning: { trial: { positionGain: null, notchDepth: null } },
      moves: { wait: { speedGap: null, positionGap: null } },
    });
    expect(now('Turntable')).toMatchObject({ command: { loop: { integralGain: null, velocityFeedforward: null } } });
    expect(now('Edge grinder')).toMatchObject({ acceptance: { speedError: null } });
  });

  it('of version 11 get moves and limits that are not entered yet, and runs without a name', () => {
    const { sha256: _, ...old } = structuredClone(demo) as {
      sha256?: string;
      axes: { document: object; runs?: object[] }[];
    };
    const [carriage] = old.axes;
    if (!carriage) throw new Error('the demo has an axis');
    const { moves, ...rest } = carriage.document as AxisDocument;
    const { sweep, ...tuning } = rest.tuning;
    const { travelError, lostPulses, ...acceptance } = rest.acceptance;
    expect([moves.jogStep, sweep.from, travelError, lostPulses]).not.toContain(null);
    carriage.document = { ...rest, tuning, acceptance };
    carriage.runs = [
      {
        ...{ id: 'r', kind: 'test move', end: 'finished', because: '' },
        ...{ startedAt: '2026-01-02T03:04:05.000Z', seconds: 1, axisVersion: 1 },
      },
    ];
    const reading = read({ ...old, formatVersion: 11 });
    if (reading.kind !== 'file') throw new Error(JSON.stringify(reading.problems));
    const [axis] = reading.file.axes;
    expect(axis?.document).toMatchObject({
      ...carriage.document,
      moves: { jogStep: null, host: { distance: null } },
      tuning: { ...tuning, sweep: { from: null } },
      acceptance: { ...acceptance, travelError: null },
    });
    expect(axis?.runs).toMatchObject([{ name: '', notes: '' }]);
  });

  it('of version 2 keep their values and results, and a pump’s output becomes its head', () => {
    const old = JSON.parse(file('../test/machine-file-2.json')) as { axes: { document: Record<string, object> }[] };
    const reading = read(old);
    if (reading.kind !== 'file') throw new Error(JSON.stringify(reading.problems));
    const [carriage] = reading.file.axes;
    const pump = reading.file.axes[1] as
      { document: AxisDocument; revisions?: { document: AxisDocument }[] } | undefined;
    const { signal: _, ...kept } = old.axes[0]?.document ?? {};
    expect(carriage?.document).toMatchObject({
      ...withPositionAtHome(kept),
      motor: { form: 'rotary' },
      protection: { safeTorqueOff: 'none' },
    });
    expect(pump?.document.stages.at(-1)).toMatchObject({ kind: 'dosingHead', outputPerTurn: '3.5 mL' });
    expect(pump?.revisions?.[0]?.document.stages).toHaveLength(2);
    if (!pump) return;
    const results = evaluateAxis(axisInputOf(pump.document).input);
    // By hand: 3.5 mL a turn of the head, 4 motor turns to it, 2²⁰ counts each.
    expect(toNumber(valueOf(results.feedbackResolution) ?? exact(0))).toBe(3.5 / (4 * 2 ** 20));
  });

  it.each<[string, unknown, string]>([
    ['a newer version', { ...demo, formatVersion: fileVersion + 1 }, `this Kavrid knows versions 1 to ${fileVersion}`],
    ['no version', { ...demo, formatVersion: 'two' }, 'whole number'],
    ['another format', { format: 'something else' }, 'not a machine file'],
    ['a list', [demo], 'not a machine file'],
    ['nothing', '', 'not JSON'],
    ['half a file', JSON.stringify(demo).slice(0, 900), 'not JSON'],
    ['a hundred thousand brackets', '['.repeat(100_000), 'not JSON'],
    [
      'deep nesting',
      `{"format":"kavrid machine","formatVersion":2,"machine":${'['.repeat(50_000)}${']'.repeat(50_000)}}`,
      '/machine',
    ],
    [
      'a wrong field',
      {
        ...demo,
        axes: [{ ...demo.axes[0], document: withValueAt(demo.axes[0]?.document, ['gear', 'numerator'], 'x') }],
      },
      '/axes/0/document/gear/numerator',
    ],
    ['a field nobody knows', { ...demo, extra: 1 }, 'Unrecognized key'],
    [
      'a register map that is none',
      { ...demo, registerMaps: [{ id: 'r', csv: 'a,b' }] },
      '/registerMaps/0/csv Line 1: the header has no column',
    ],
    ['too many axes', { ...demo, axes: Array.from({ length: 65 }, () => demo.axes[0]) }, '/axes'],
    ['an id that is a path', { ...demo, machine: { ...demo.machine, id: '../../etc' } }, '/machine/id'],
    [
      'a prototype in disguise',
      '{"format":"kavrid machine","formatVersion":2,"__proto__":{"x":1},"machine":1,"axes":[]}',
      '/machine',
    ],
  ])('with %s are refused with the place', (_, value, words) => expect(problemsOf(value)).toContain(words));

  it('in another encoding are refused', () => {
    const utf16 = new Uint8Array(Buffer.from(JSON.stringify(demo), 'utf16le'));
    expect(readMachineFile(utf16, sha256)).toMatchObject({ kind: 'refused' });
    const latin1 = new Uint8Array(Buffer.from('{"format":"Müller"}', 'latin1'));
    expect(readMachineFile(latin1, sha256)).toMatchObject({ problems: [{ detail: 'The file is not in UTF-8.' }] });
  });

  it('carry a check sum: one changed digit is found, in any order of fields', () => {
    const sealed = { ...demo, sha256: sha256(canonicalJson(demo)) };
    expect(read(sealed).kind).toBe('file');
    expect(read(Object.fromEntries(Object.entries(sealed).reverse())).kind).toBe('file');
    expect(problemsOf(JSON.stringify(sealed).replace('12288', '12289'))).toContain('remove its line “sha256”');
    expect(canonicalJson({ b: [1, { d: null, c: 'x' }], a: undefined })).toBe('{"b":[1,{"c":"x","d":null}]}');
  });

  it('are described by a JSON Schema that an independent validator (Ajv) agrees with', async () => {
    const ajv = new Ajv2020({ strict: false });
    formats.default(ajv);
    const valid = ajv.compile(machineFileJsonSchema());
    expect(valid(demo)).toBe(true);
    expect(valid({ ...demo, machine: { ...demo.machine, document: { name: 5 } } })).toBe(false);
    expect(valid({ ...demo, formatVersion: 1 })).toBe(false);
    // As it is published; after a change of the format, `npx vitest run contract -u` rewrites it.
    await expect(`${JSON.stringify(machineFileJsonSchema(), undefined, 1)}\n`).toMatchFileSnapshot(
      '../../docs/machine-file.schema.json',
    );
  });
});

describe('OpenAPI description', () => {
  it('is valid OpenAPI 3.1 by an independent validator and describes every endpoint', async () => {
    const description = JSON.parse(JSON.stringify(openApi('1.0.0'))) as {
      paths: Record<string, Record<string, { operationId: string }>>;
    };
    const result = await new Validator().validate(description);
    expect(result.errors ?? []).toEqual([]);
    expect(result.valid).toBe(true);
    const described = Object.values(description.paths).flatMap((methods) =>
      Object.values(methods).map((each) => each.operationId),
    );
    expect(described.sort()).toEqual(Object.keys(endpoints).sort());
  });
});
