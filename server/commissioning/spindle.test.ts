import { readFileSync } from 'node:fs';
import { grinderWorld, makeSpindle, mapPath, serveModbus, type RunningServer } from '@kavrid/bench';
import { type MemberRecord, type RunRecord, type SpindleDocument, type SpindleRecord } from '@kavrid/contract';
import { afterAll, afterEach, beforeAll, describe, expect, it, vi } from 'vitest';
import { freePort } from '../test/freePort.ts';
import { windowsOf } from '../test/liveWindow.ts';
import { demoSpindle, useServer } from '../test/testServer.ts';
import { channelsOfRun } from '../test/traces.ts';

const test = useServer();
const { openWindow, closeAll } = windowsOf(() => test.port);

describe('commissioning a spindle on the bench, over TCP', { timeout: 180_000 }, () => {
  let bench: RunningServer;
  let registers: ReturnType<typeof makeSpindle>;
  let spindle: SpindleRecord;
  const save = async (change: Partial<SpindleDocument>) => {
    const { body } = await test.send<SpindleRecord>('GET', `/axes/${spindle.id}`);
    const document = { ...body.document, ...change };
    return test.send<SpindleRecord>('PUT', `/axes/${spindle.id}`, { version: body.version, author: 'test', document });
  };
  beforeAll(async () => {
    const port = await freePort();
    registers = makeSpindle(grinderWorld);
    bench = await serveModbus(new Map([[3, registers]]), port);
    const profile = (await (
      await fetch(`${test.base}/profiles`, {
        method: 'POST',
        body: readFileSync(mapPath('spindle'), 'utf8'),
        headers: { 'content-type': 'text/csv' },
      })
    ).json()) as { id: string };
    const document: SpindleDocument = {
      ...demoSpindle,
      // Server, bench and window share one thread here.
      bus: { ...demoSpindle.bus, timeOut: 15 },
      link: { kind: 'tcp', host: '127.0.0.1', port, unit: 3, profileId: profile.id },
      runTest: {
        ...demoSpindle.runTest,
        speeds: [{ at: 0, speed: 900 }],
        loadTorque: 6,
        loadAt: 2,
        loadUntil: 3,
        stopAt: 3.5,
        duration: 5,
      },
    };
    const machine = await test.newMachine();
    spindle = (await test.send<SpindleRecord>('POST', `/machines/${machine.id}/axes`, { author: 'test', document }))
      .body;
  });
  afterEach(() => closeAll());
  afterAll(() => bench.close());

  /** A window whose drive is linked and holds what is planned. */
  async function ready() {
    const window = await openWindow(spindle.id);
    const { say, until, spindle: state } = window;
    // What was saved just now is a plan of its own, and ends what was begun by the one before.
    const { version: saved } = (await test.send<MemberRecord>('GET', `/axes/${spindle.id}`)).body;
    await until('watched', () => state()?.version === saved);
    if (state()?.link !== 'up') say({ type: 'connect', version: window.version() });
    await until('linked', () => state()?.deviceState !== undefined);
    if (state()?.deviceState === 'fault') say({ type: 'resetFault' });
    await until(
      'no trip, and standing',
      () => state()?.deviceState !== 'fault' && state()?.toolSpeed === 0 && !state()?.isStopping,
    );
    await window.prove();
    return window;
  }

  it('reads, writes, stores, restarts and proves; runs, changes its speed, stops on its ramp', async () => {
    const { say, until, spindle: state, version, refused } = await ready();
    expect(registers.device.parameters.stored).toMatchObject({
      highestHertz: 6000,
      protectionCurrent: 800,
      runSource: 2,
    });
    say({ type: 'runSpindle', version: version(), speed: 900, reverse: false });
    await until('at speed', () => (state()?.readings.values.hertz ?? 0) > 22.49);
    // 900 rpm of the tool are 22.5 Hz, through 1.5 and two poles.
    expect(state()?.readings.values.hertz).toBeCloseTo(22.5, 6);
    expect(state()?.toolSpeed).toBeGreaterThan(880);
    expect(state()?.toolSpeed).toBeLessThan(900);
    expect(state()?.readings.values.current).toBeGreaterThan(2);
    say({ type: 'runSpindle', version: version(), speed: 1200, reverse: false });
    await until('faster', () => (state()?.readings.values.hertz ?? 0) > 29.9);
    say({ type: 'runSpindle', version: version(), speed: 5000, reverse: false });
    await refused('above the 2400 rpm');
    say({ type: 'stopSpindle' });
    await until('standing', () => state()?.toolSpeed === 0);
    expect(state()?.fault).toBeUndefined();
  });

  it('makes the run test, and keeps its trace with what it was made with', async () => {
    const { say, until, newest, version } = await ready();
    say({ type: 'runTest', version: version() });
    await until('done', () => newest('runSaved')?.run.kind === 'run test');
    const summary = newest('runSaved')?.run;
    expect(summary).toMatchObject({ end: 'finished' });
    const { body: run } = await test.send<RunRecord>('GET', `/runs/${summary?.id ?? ''}`);
    const { period } = run.trace;
    const channel = await channelsOfRun(test.base, run);
    expect(period).toBeCloseTo(0.02, 12);
    const at = (name: string, second: number) => channel(name)[Math.round(second / period)] ?? NaN;
    expect(at('hertz', 1.8)).toBeCloseTo(22.5, 6);
    // 6 N·m at the tool are 4 at the motor, and its friction.
    expect(at('torque', 2.7)).toBeCloseTo(4 + grinderWorld.friction, 1);
    expect(at('hertz', 4.9)).toBe(0);
    expect(run.axis).toMatchObject({ kind: 'spindle', name: demoSpindle.name });
    const csv = await test.send<string>('GET', `/runs/${summary?.id ?? ''}/trace.csv`);
    expect(String(csv.body).split('\r\n')[0]).toBe(
      'Time (s),Output frequency (Hz),Motor speed (rpm),Motor current (A),Motor torque (N·m),DC bus (V)',
    );
  });

  it('stops when its window goes, and does not run where nobody would stop it', async () => {
    const first = await ready();
    first.say({ type: 'runSpindle', version: first.version(), speed: 900, reverse: true });
    await first.until('running', () => (first.spindle()?.toolSpeed ?? 0) < -800);
    first.close();
    await vi.waitUntil(() => registers.device.state === 'quick stop active', { timeout: 60_000, interval: 3 });

    const { say, until, refused, spindle: state, version } = await openWindow(spindle.id);
    await until('standing', () => state()?.link === 'up' && state()?.toolSpeed === 0 && !state()?.isStopping);
    const run = () => say({ type: 'runSpindle', version: version(), speed: 900, reverse: false });
    registers.device.parameters.write('busTimeOut', 0);
    run();
    await refused('communication timeout is off');
    registers.device.parameters.write('busTimeOut', 1500);
    registers.device.parameters.write('lostLink', 0);
    run();
    await refused('keep running without its link');
    registers.device.parameters.write('lostLink', 1);
    const saved = async (change: Partial<SpindleDocument>) => {
      const { version: now } = (await save(change)).body;
      await until('saved', () => version() === now);
    };
    const { runTest } = (await test.send<SpindleRecord>('GET', `/axes/${spindle.id}`)).body.document;
    await saved({ runTest: { ...runTest, cutAt: 2 } });
    say({ type: 'runTest', version: version() });
    await refused('only predicted. Remove it from');
    await saved({ runTest });
    say({ type: 'jog', version: version(), press: 1, direction: 1, speed: 5 });
    await refused('A spindle cannot do that.');
  });

  it('a spindle stays one, lies beside the axes, and its trip is told in words', async () => {
    const wrong = await test.send<MemberRecord>('GET', `/axes/${spindle.id}`);
    const asAxis = { version: wrong.body.version, author: 'x', document: { ...wrong.body.document, kind: 'axis' } };
    expect((await test.send('PUT', `/axes/${spindle.id}`, asAxis)).status).toBe(422);
    const machines = await test.send<{ items: { axes: { kind: string }[] }[] }>('GET', '/machines?page=0&size=10');
    expect(machines.body.items[0]?.axes).toMatchObject([{ kind: 'spindle' }]);
    // Without its resistor the same stop gives back too much.
    expect((await save({ resistor: null, settings: { ...demoSpindle.settings, rampDown: 0.5 } })).status).toBe(200);
    const { say, until, spindle: state, version } = await ready();
    say({ type: 'runSpindle', version: version(), speed: 2200, reverse: false });
    await until('at speed', () => state()?.atSpeed === true);
    say({ type: 'stopSpindle' });
    await until('tripped', () => state()?.deviceState === 'fault');
    expect(state()?.fault).toContain('overvoltage');
    await until('seen to stand', () => state()?.isStopping === false);
    say({ type: 'resetFault' });
    await until('reset', () => state()?.deviceState === 'switch on disabled');
    await save({ resistor: demoSpindle.resistor, settings: demoSpindle.settings });
  });
});
