import { readFileSync } from 'node:fs';
import { grinderWorld, serveModbus, spindleMapPath, SpindleRegisters, type RunningServer } from '@kavrid/bench';
import {
  isAxisTrace,
  type MemberRecord,
  type RunRecord,
  type SpindleDocument,
  type SpindleRecord,
} from '@kavrid/contract';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { freePort } from '../test/freePort.ts';
import { windowsOf } from '../test/liveWindow.ts';
import { demoSpindle, useServer } from '../test/testServer.ts';

const test = useServer();
const { openWindow, closeAll } = windowsOf(() => test.port);

// Real time on a computer that others use too, as with the axes.
describe('commissioning a spindle on the bench', { retry: 4 }, () => {
  let bench: RunningServer;
  let registers: SpindleRegisters;
  let spindle: SpindleRecord;
  const save = async (change: Partial<SpindleDocument>) => {
    const { body } = await test.send<SpindleRecord>('GET', `/axes/${spindle.id}`);
    const document = { ...body.document, ...change };
    return test.send<SpindleRecord>('PUT', `/axes/${spindle.id}`, { version: body.version, author: 'test', document });
  };
  beforeAll(async () => {
    const port = await freePort();
    registers = new SpindleRegisters(grinderWorld, undefined, () => undefined);
    bench = await serveModbus(new Map([[3, registers]]), port);
    const profile = (await (
      await fetch(`${test.base}/profiles`, {
        method: 'POST',
        body: readFileSync(spindleMapPath, 'utf8'),
        headers: { 'content-type': 'text/csv' },
      })
    ).json()) as { id: string };
    const document: SpindleDocument = {
      ...demoSpindle,
      // Server, bench and window share one thread here.
      bus: { ...demoSpindle.bus, timeOut: 1.5 },
      link: { host: '127.0.0.1', port, unit: 3, profileId: profile.id },
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
  afterEach(async () => {
    closeAll();
    await new Promise((resolve) => setTimeout(resolve, 300));
  });
  afterAll(() => bench.close());

  /** A window whose drive is linked and holds what is planned. */
  async function ready() {
    const window = await openWindow(spindle.id);
    const { say, until, spindle: state, newest } = window;
    await until('watched', () => state() !== undefined);
    say({ type: 'connect' });
    await until('linked', () => state()?.link === 'up');
    if (state()?.deviceState === 'fault') say({ type: 'resetFault' });
    await until('no trip, and standing', () => state()?.deviceState !== 'fault' && state()?.toolSpeed === 0, 20);
    say({ type: 'readDrive' });
    await until('read', () => newest('driveData')?.driveData.procedure.phase === 'review');
    say({ type: 'writeDrive' });
    await until('proven', () => newest('driveData')?.driveData.procedure.phase === 'proven', 20);
    return window;
  }

  it(
    'reads, writes, stores, restarts and proves; runs, changes its speed, stops on its ramp',
    { timeout: 60_000 },
    async () => {
      const { say, until, spindle: state, newest } = await ready();
      expect(registers.device.parameters.stored).toMatchObject({
        highestHertz: 6000,
        protectionCurrent: 800,
        runSource: 2,
      });
      say({ type: 'runSpindle', speed: 900, reverse: false });
      await until('at speed', () => (state()?.hertz ?? 0) > 22.49);
      // 900 rpm of the tool are 22.5 Hz, through 1.5 and two poles.
      expect(state()?.hertz).toBeCloseTo(22.5, 6);
      expect(state()?.toolSpeed).toBeGreaterThan(880);
      expect(state()?.toolSpeed).toBeLessThan(900);
      expect(state()?.current).toBeGreaterThan(2);
      say({ type: 'runSpindle', speed: 1200, reverse: false });
      await until('faster', () => (state()?.hertz ?? 0) > 29.9);
      say({ type: 'runSpindle', speed: 5000, reverse: false });
      await until('refused', () => newest('refused')?.because.includes('above the 2400 rpm') ?? false);
      say({ type: 'stopSpindle' });
      await until('standing', () => state()?.toolSpeed === 0);
      expect(state()?.fault).toBeUndefined();
    },
  );

  it('makes the run test, and keeps its trace with what it was made with', { timeout: 60_000 }, async () => {
    const { say, until, newest } = await ready();
    say({ type: 'runTest' });
    await until('done', () => newest('runSaved')?.run.kind === 'run test', 40);
    const summary = newest('runSaved')?.run;
    expect(summary).toMatchObject({ end: 'finished' });
    const { body: run } = await test.send<RunRecord>('GET', `/runs/${summary?.id ?? ''}`);
    if (isAxisTrace(run.trace)) throw new Error('not the trace of a spindle');
    const { period, channels } = run.trace;
    expect(period).toBeCloseTo(0.02, 12);
    const at = (name: keyof typeof channels, second: number) => channels[name][Math.round(second / period)] ?? NaN;
    expect(at('hertz', 1.8)).toBeCloseTo(22.5, 6);
    // 6 N·m at the tool are 4 at the motor, and its friction.
    expect(at('torque', 2.7)).toBeCloseTo(4 + grinderWorld.friction, 1);
    expect(at('hertz', 4.9)).toBe(0);
    expect(run.axis).toMatchObject({ kind: 'spindle', name: demoSpindle.name });
    const csv = await test.send<string>('GET', `/runs/${summary?.id ?? ''}/trace.csv`);
    expect(String(csv.body).split('\r\n')[0]).toBe(
      'time (s),output (Hz),motor speed (rpm),current (A),motor torque (N·m),DC bus (V)',
    );
  });

  it('stops when its window goes, and does not run where nobody would stop it', { timeout: 60_000 }, async () => {
    const first = await ready();
    first.say({ type: 'runSpindle', speed: 900, reverse: true });
    await first.until('running', () => (first.spindle()?.toolSpeed ?? 0) < -800);
    first.close();
    const gone = Date.now();
    while (registers.device.state === 'operation enabled' && Date.now() - gone < 5000)
      await new Promise((resolve) => setTimeout(resolve, 5));
    // Budget: tab closed → stopping in 250 ms.
    expect(Date.now() - gone).toBeLessThan(250);
    expect(registers.device.state).toBe('quick stop active');

    const { say, until, newest, spindle: state } = await openWindow(spindle.id);
    await until('standing', () => state()?.link === 'up' && state()?.toolSpeed === 0);
    registers.device.parameters.write('busTimeOut', 0);
    say({ type: 'runSpindle', speed: 900, reverse: false });
    await until('refused', () => newest('refused')?.because.includes('does not watch its link') ?? false);
    registers.device.parameters.write('busTimeOut', 150);
    registers.device.parameters.write('lostLink', 0);
    say({ type: 'runSpindle', speed: 900, reverse: false });
    await until('refused again', () => newest('refused')?.because.includes('go on without its link') ?? false);
    registers.device.parameters.write('lostLink', 1);
    const { runTest } = (await test.send<SpindleRecord>('GET', `/axes/${spindle.id}`)).body.document;
    await save({ runTest: { ...runTest, cutAt: 2 } });
    say({ type: 'runTest' });
    await until('no cut', () => newest('refused')?.because.includes('in the prediction only') ?? false);
    await save({ runTest });
    say({ type: 'jog', direction: 1, speed: 5 });
    await until('no axis', () => newest('refused')?.because === 'A spindle cannot do that.');
  });

  it('a spindle stays one, lies beside the axes, and its trip is told in words', { timeout: 60_000 }, async () => {
    const wrong = await test.send<MemberRecord>('GET', `/axes/${spindle.id}`);
    const asAxis = { version: wrong.body.version, author: 'x', document: { ...wrong.body.document, kind: 'axis' } };
    expect((await test.send('PUT', `/axes/${spindle.id}`, asAxis)).status).toBe(422);
    const machines = await test.send<{ items: { axes: { kind: string }[] }[] }>('GET', '/machines?page=0&size=10');
    expect(machines.body.items[0]?.axes).toMatchObject([{ kind: 'spindle' }]);
    // Without its resistor the same stop gives back too much.
    expect((await save({ resistor: null, settings: { ...demoSpindle.settings, rampDown: 0.5 } })).status).toBe(200);
    const { say, until, spindle: state } = await ready();
    say({ type: 'runSpindle', speed: 2200, reverse: false });
    await until('at speed', () => state()?.atSpeed === true);
    say({ type: 'stopSpindle' });
    await until('tripped', () => state()?.deviceState === 'fault');
    expect(state()?.fault).toContain('Overvoltage');
    say({ type: 'resetFault' });
    await until('reset', () => state()?.deviceState === 'switch on disabled');
    await save({ resistor: demoSpindle.resistor, settings: demoSpindle.settings });
  });
});
