import {
  acceptanceDigest,
  spindleInputOf,
  type AcceptanceReport,
  type AxisDocument,
  type MeasuredEvidence,
  type Problem,
} from '@kavrid/contract';
import { valueOf } from '@kavrid/core/sheet';
import { evaluateSpindle } from '@kavrid/core/spindle';
import { describe, expect, it } from 'vitest';
import { demoAxis, demoSpindle, useServer } from './test/testServer.ts';
import { traceOf } from './test/traces.ts';

const test = useServer();

const limits = {
  ...demoAxis.acceptance,
  followingError: 2,
  settlingTime: 0.2,
  peakTorque: 100,
  rmsTorque: null,
  homingRepeatability: 0.1,
  travelError: null,
  lostPulses: null,
};
const axis: AxisDocument = { ...demoAxis, acceptance: limits };

/** A move of a second towards plus, with an error of one unit and a torque of 50 % while it moves. */
const moved = (identity: string, error = 1) => {
  const count = 1500;
  const at = (value: (k: number) => number) => Array.from({ length: count }, (_, k) => value(k));
  const isMoving = (k: number) => k > 100 && k < 1100;
  const trace = traceOf({
    demandPosition: at((k) => 0.1 * Math.min(1000, Math.max(0, k - 100))),
    actualPosition: at((k) => 0.1 * Math.min(1000, Math.max(0, k - 100)) - (isMoving(k) ? error : 0)),
    demandSpeed: at((k) => (isMoving(k) ? 100 : 0)),
    actualSpeed: at((k) => (isMoving(k) ? 100 : 0)),
    followingError: at((k) => (isMoving(k) ? error : 0)),
    torque: at((k) => (isMoving(k) ? 50 : 0)),
    inputs: at(() => 0),
    statusword: at(() => 0),
  });
  return { ...trace, header: { ...trace.header, period: 0.001, identity } };
};

let runs = 0;

async function made(document = axis) {
  const machine = await test.newMachine();
  const { body } = await test.send<{ id: string }>('POST', `/machines/${machine.id}/axes`, { author: 'x', document });
  const id = body.id;
  const run = (identity: string, more: { readonly end?: 'finished' | 'fault'; readonly error?: number } = {}) =>
    test.store.runs.add(
      {
        ...{ memberId: id, kind: 'test move', end: more.end ?? 'finished', because: '' },
        ...{ startedAt: new Date(Date.now() + 1000 * ++runs), seconds: 1.5, axisVersion: 1 },
      },
      moved(identity, more.error),
    );
  const report = async () => (await test.send<AcceptanceReport>('GET', `/axes/${id}/acceptance`)).body;
  const verdicts = async () => Object.fromEntries((await report()).rows.map(({ key, verdict }) => [key, verdict]));
  const homes = (values: readonly number[]) =>
    test.send('POST', `/axes/${id}/measurements`, { version: 1, measured: { kind: 'homing series', homes: values } });
  return { id, run, report, verdicts, homes };
}

describe('acceptance', () => {
  it('is judged by the newest test move and homing series, and kept with device, version and settings', async () => {
    const { id, run, report, verdicts, homes } = await made();
    expect(await report()).toMatchObject({ verdict: 'not measured', identity: '' });
    await run('21249:7');
    expect(await verdicts()).toEqual({
      ...{ followingError: 'passed', settlingTime: 'passed', peakTorque: 'passed' },
      homingRepeatability: 'not measured',
    });
    // 4 · √(2 · 0.01² / 2) = 0.04.
    await homes([1, 1.01, 0.99]);
    const judged = await report();
    expect(judged).toMatchObject({ verdict: 'passed', version: 1, identity: '21249:7' });
    expect(judged.rows.find(({ key }) => key === 'homingRepeatability')?.measured).toBeCloseTo(0.04, 9);
    expect(judged.rows.find(({ key }) => key === 'followingError')?.measured).toBeCloseTo(1, 6);

    expect((await test.send<Problem>('POST', `/axes/${id}/acceptance`, { version: 2 })).status).toBe(409);
    expect((await test.send('POST', `/axes/${id}/acceptance`, { version: 1 })).status).toBe(201);
    const kept = (await test.send<readonly MeasuredEvidence[]>('GET', `/axes/${id}/evidence`)).body;
    expect(kept.find(({ kind }) => kind === 'acceptance')).toMatchObject({
      ...{ revision: 1, identity: '21249:7', digest: acceptanceDigest(axis) },
      payload: { verdict: 'passed' },
    });
  });

  it('fails on a value above its limit, and passes nothing by a run that was broken off', async () => {
    const { run, verdicts, report } = await made();
    await run('1:2', { error: 2.5 });
    expect((await verdicts()).followingError).toBe('failed');
    expect((await report()).verdict).toBe('failed');
    await run('1:2', { end: 'fault' });
    const rows = (await report()).rows.filter(({ key }) => key !== 'homingRepeatability');
    expect(new Set(rows.map(({ verdict, because }) => `${verdict} ${because}`))).toEqual(
      new Set(['not measured the newest test move did not come to its end']),
    );
  });

  it('judges travel and pulses by the newest moves of the controller, and names a controller that has changed', async () => {
    const host = { distance: 100, speed: null, repeats: 1 };
    const document = {
      ...axis,
      acceptance: { ...limits, travelError: 0.05, lostPulses: 0 },
      moves: { ...axis.moves, host },
    };
    const { id, verdicts, report } = await made(document);
    expect((await verdicts()).lostPulses).toBe('not measured');
    /** There and back at 100 mm/s, so many mm short each way. */
    const record = (short: number) => {
      const count = 3000;
      const at = (k: number) =>
        Math.min(100 - short, Math.max(0, 0.1 * (k - 100))) - Math.min(100 - short, Math.max(0, 0.1 * (k - 1600)));
      const position = Array.from({ length: count }, (_, k) => at(k));
      const zeros = position.map(() => 0);
      return test.store.runs.add(
        {
          ...{ memberId: id, kind: 'controller move', end: 'finished', because: '' },
          ...{ startedAt: new Date(Date.now() + 1000 * ++runs), seconds: 3, axisVersion: 1 },
        },
        traceOf({
          ...{ demandPosition: position, actualPosition: position, demandSpeed: zeros, actualSpeed: zeros },
          ...{ followingError: zeros, torque: zeros, inputs: zeros, statusword: zeros },
        }),
      );
    };
    await record(0);
    expect(await verdicts()).toMatchObject({ travelError: 'passed', lostPulses: 'passed' });
    // 0.3 mm are 30 pulses of 0.01 mm.
    await record(0.3);
    const rows = (await report()).rows;
    expect(rows.find(({ key }) => key === 'lostPulses')).toMatchObject({ verdict: 'failed', measured: 30 });
    expect(rows.find(({ key }) => key === 'travelError')?.measured).toBeCloseTo(0.3, 6);
    await test.send('PUT', `/axes/${id}`, {
      version: 1,
      author: 'x',
      document: { ...document, controller: { ...document.controller, maximumPulseRate: 1234 } },
    });
    expect((await report()).rows.find(({ key }) => key === 'lostPulses')).toMatchObject({
      verdict: 'not measured',
      because: 'changed since: the controller',
    });
  });

  it('names what has changed since; a changed limit alone is judged anew', async () => {
    const { id, run, report, homes } = await made();
    await run('1:2');
    await homes([0, 0.01]);
    const save = (version: number, document: AxisDocument) =>
      test.send('PUT', `/axes/${id}`, { version, author: 'x', document });
    await save(1, { ...axis, acceptance: { ...limits, followingError: 0.5 } });
    expect((await report()).rows[0]).toMatchObject({ verdict: 'failed', limit: 0.5 });
    await save(2, { ...axis, settings: { ...axis.settings, positionGain: 41 }, load: { ...axis.load, mass: 9 } });
    const rows = (await report()).rows;
    expect(rows[0]).toMatchObject({
      verdict: 'not measured',
      because: 'changed since: the load, the planned values of the drive',
    });
    // A gain moves no home.
    expect(rows.find(({ key }) => key === 'homingRepeatability')?.verdict).toBe('passed');
    expect((await test.send('GET', '/axes/nobody/acceptance')).status).toBe(404);
  });

  it('judges a spindle by its newest run test: every steady speed against the commanded one', async () => {
    const document = { ...demoSpindle, acceptance: { speedError: 3 } };
    const machine = await test.newMachine();
    const { body } = await test.send<{ id: string }>('POST', `/machines/${machine.id}/axes`, { author: 'x', document });
    const report = async () => (await test.send<AcceptanceReport>('GET', `/axes/${body.id}/acceptance`)).body;
    expect((await report()).rows).toMatchObject([{ key: 'speedError', because: 'there is no run test' }]);
    const { input } = spindleInputOf(document);
    const ratio = valueOf(evaluateSpindle(input).ratioNumber) ?? NaN;
    const speeds = valueOf(input.runTest.speeds) ?? [];
    const period = 0.02;
    /** The tool turns so many % slower than commanded; the drive has reached its frequency everywhere. */
    const record = (slower: number) => {
      const count = Math.round((document.runTest.duration ?? 0) / period);
      const tool = (k: number) => speeds.filter(({ at }) => at <= k * period).at(-1)?.toolSpeed ?? 0;
      const at = (value: (k: number) => number) => Array.from({ length: count }, (_, k) => value(k));
      const trace = traceOf(
        {
          hertz: at((k) => tool(k) / 60),
          speed: at((k) => tool(k) * ratio * (1 - slower / 100)),
          ...{ current: at(() => 1), torque: at(() => 1), busVolts: at(() => 300) },
        },
        period,
      );
      return test.store.runs.add(
        {
          ...{ memberId: body.id, kind: 'run test', end: 'finished', because: '' },
          ...{ startedAt: new Date(Date.now() + 1000 * ++runs), seconds: count * period, axisVersion: 1 },
        },
        { ...trace, header: { ...trace.header, identity: '21250:3' } },
      );
    };
    await record(2);
    expect(await report()).toMatchObject({ verdict: 'passed', identity: '21250:3' });
    expect((await report()).rows[0]?.measured).toBeCloseTo(2, 6);
    await record(4);
    expect((await report()).verdict).toBe('failed');
    const kept = await test.send('POST', `/axes/${body.id}/acceptance`, { version: 1 });
    expect(kept.status).toBe(201);
    // Another belt: what was measured says nothing any more, and the report says which.
    const belt = { ...document.belt, reverses: !document.belt.reverses };
    await test.send('PUT', `/axes/${body.id}`, { version: 1, author: 'x', document: { ...document, belt } });
    expect((await report()).rows[0]).toMatchObject({ verdict: 'not measured', because: 'changed since: the belt' });
    const evidence = (await test.send<readonly MeasuredEvidence[]>('GET', `/axes/${body.id}/evidence`)).body;
    expect(evidence).toMatchObject([{ kind: 'acceptance', digest: acceptanceDigest(document) }]);
  });
});
