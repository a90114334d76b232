import { benchUnits, makeBench, serveModbus, type BenchPart, type RunningServer } from '@kavrid/bench';
import type { BenchMessage } from '@kavrid/contract';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { freePort } from '../test/freePort.ts';
import { benchMaps } from './benchMaps.ts';
import { BenchPanel } from './benchPanel.ts';
import { connectLine, Lines } from './lines.ts';

describe('the bench beside a linked drive', () => {
  const bench = makeBench(() => ({}));
  const lines = new Lines(connectLine);
  const maps = benchMaps();
  if (!maps) throw new Error('no bench ships with the server');
  const panel = new BenchPanel(lines, maps);
  const order = (message: BenchMessage, unit: number = benchUnits.servo) =>
    panel.carryOut('127.0.0.1', server.port, unit, message);
  /** A control of the simulated controller beside a drive, by its id. */
  const control = async (id: string, unit?: number) =>
    (await order({ type: 'readBench' }, unit))?.host?.controls.find((each) => each.id === id)?.value;
  const parts = Object.keys(benchUnits) as BenchPart[];
  let server: RunningServer;
  let stranger: RunningServer;
  beforeAll(async () => {
    server = await serveModbus(new Map(parts.map((part) => [benchUnits[part], bench.parts[part]])), await freePort());
    // A real drive may answer at any unit: here a servo drive stands where the bench has its own.
    stranger = await serveModbus(new Map([[benchUnits.faults, makeBench(() => ({})).parts.servo]]), await freePort());
  });
  afterAll(async () => {
    await server.close();
    await stranger.close();
  });

  it('tells hands and faults of the linked device, and switches them', async () => {
    const read = await order({ type: 'readBench' });
    expect(read?.switches.filter(({ group }) => group === 'hand').map(({ id }) => id)).toEqual([
      'tripMinusLimit',
      'tripPlusLimit',
      'tripHome',
      'turnPlus',
      'turnMinus',
      'turnOnePlus',
      'hardwareStop',
      'holdShaft',
      'selfTuned',
      'mainSupplyOff',
      'controlSupplyOff',
    ]);
    expect(read?.switches.some(({ isOn }) => isOn)).toBe(false);
    const set = await order({ type: 'setBench', id: 'plusLimitBroken', isOn: true });
    expect(set?.switches.filter(({ isOn }) => isOn).map(({ label }) => label)).toEqual(['Plus limit wire broken']);
    await vi.waitFor(() => expect(bench.parts.servo.device.terminals.inputs.isActive('plus limit')).toBe(true));
    await vi.waitFor(async () =>
      expect((await order({ type: 'readBench' }))?.host?.inputs).toContainEqual({
        key: 'plusLimit',
        label: 'Plus limit',
        level: true,
        isActive: false,
      }),
    );
    await order({ type: 'setBench', id: 'plusLimitBroken', isOn: false });
  });

  it.each([
    [benchUnits.stepper, 'Bench host'],
    [benchUnits.brushless, 'Bench PWM host'],
    [benchUnits.turntable, 'Bench loop host'],
    [benchUnits.tileStop, 'Bench choice host'],
    [benchUnits.secondFeed, 'Bench host'],
    [benchUnits.spindle, undefined],
  ])('beside unit %i there is its own controller, %s, with its own faults', async (unit, name) => {
    const state = await order({ type: 'readBench' }, unit);
    expect(state?.host?.name).toBe(name);
    expect(state?.switches.some(({ id }) => id === 'limitsSwapped')).toBe(false);
  });

  it('its host moves the axis by pulses, and stops', async () => {
    await order({ type: 'setHost', id: 'servoOn', value: 1 });
    expect(await control('servoOn')).toBe(1);
    await order({ type: 'setHost', id: 'moveBy', value: 60 });
    expect(await control('moving')).toBe(1);
    // A second move is refused, and changes nothing.
    await order({ type: 'setHost', id: 'moveBy', value: 99 });
    await vi.waitFor(async () => expect(await control('moving')).toBe(0), { timeout: 30_000 });
    expect([await control('incrementsSent'), await control('hostPosition')]).toEqual([6000, 6000]);
    await order({ type: 'setHost', id: 'moveBy', value: 500 });
    await order({ type: 'setHost', id: 'stop', value: 1 });
    expect(await control('moving')).toBe(0);
    expect(await control('incrementsSent')).toBeLessThan(16_000);
    // What is only read, or is no control, is not written.
    expect(await order({ type: 'setHost', id: 'hostPosition', value: 1 })).toBeUndefined();
    expect(await order({ type: 'setHost', id: 'store', value: 1 })).toBeUndefined();
  });

  it('another controller sends a duty cycle', async () => {
    await order({ type: 'setHost', id: 'duty', value: 42.5 }, benchUnits.brushless);
    expect(await control('duty', benchUnits.brushless)).toBeCloseTo(42.5, 2);
    expect(bench.parts.brushless.device.line.sent).toBeCloseTo(0.425, 4);
  });

  it('what is no bench is not written to, and neither is another computer', async () => {
    const swap = { type: 'setBench', id: 'limitsSwapped', isOn: true } as const;
    expect(await panel.carryOut('127.0.0.1', stranger.port, 1, swap)).toBeUndefined();
    expect(await panel.carryOut('192.0.2.1', server.port, 1, swap)).toBeUndefined();
    expect(await panel.carryOut('127.0.0.1', await freePort(), 1, swap)).toBeUndefined();
    expect(await order({ ...swap, id: 'store' })).toBeUndefined();
    expect(lines.size).toBe(0);
  });
});
