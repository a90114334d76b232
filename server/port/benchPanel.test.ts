import { readFileSync } from 'node:fs';
import { benchUnits, makeBench, serveModbus, type BenchPart, type RunningServer } from '@kavrid/bench';
import { readBenchMap } from '@kavrid/contract';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { freePort } from '../test/freePort.ts';
import { BenchPanel } from './benchPanel.ts';
import { connectLine, Lines } from './lines.ts';

const map = (part: string) =>
  readBenchMap(readFileSync(new URL(`../../bench/${part}/${part}.csv`, import.meta.url), 'utf8'));

describe('the bench beside a linked drive', () => {
  const bench = makeBench(() => ({}));
  const lines = new Lines(connectLine);
  const panel = new BenchPanel(lines, { faults: map('faults'), host: map('host') });
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

  it('tells its hands, its faults and its host, and switches them', async () => {
    const read = await panel.carryOut('127.0.0.1', server.port, { type: 'readBench' });
    expect(read?.switches.filter(({ group }) => group === 'hand').map(({ id }) => id)).toEqual([
      'tripMinusLimit',
      'tripPlusLimit',
      'tripHome',
    ]);
    expect(read?.switches.some(({ isOn }) => isOn)).toBe(false);
    const set = await panel.carryOut('127.0.0.1', server.port, { type: 'setBench', id: 'plusLimitBroken', isOn: true });
    expect(set?.switches.filter(({ isOn }) => isOn).map(({ label }) => label)).toEqual(['Plus limit wire broken']);
    await vi.waitFor(() => expect(bench.parts.servo.device.terminals.inputs.isActive('plus limit')).toBe(true));
    await panel.carryOut('127.0.0.1', server.port, { type: 'setBench', id: 'plusLimitBroken', isOn: false });
  });

  it('its host moves the axis by pulses, and stops', async () => {
    const on = await panel.carryOut('127.0.0.1', server.port, { type: 'setBench', id: 'servoOn', isOn: true });
    expect(on?.host.servoOn).toBe(true);
    const moved = await panel.carryOut('127.0.0.1', server.port, { type: 'moveHost', by: 1.5 });
    expect(moved?.host.isMoving).toBe(true);
    // A second move is refused, and changes nothing.
    expect((await panel.carryOut('127.0.0.1', server.port, { type: 'moveHost', by: 99 }))?.host.isMoving).toBe(true);
    await vi.waitFor(
      async () =>
        expect((await panel.carryOut('127.0.0.1', server.port, { type: 'readBench' }))?.host).toMatchObject({
          isMoving: false,
          sent: 150,
          position: 150,
        }),
      { timeout: 30_000 },
    );
    await panel.carryOut('127.0.0.1', server.port, { type: 'moveHost', by: 500 });
    const stopped = await panel.carryOut('127.0.0.1', server.port, { type: 'stopHost' });
    expect(stopped?.host.isMoving).toBe(false);
    expect(stopped?.host.sent).toBeLessThan(10_000);
  });

  it('what is no bench is not written to, and neither is another computer', async () => {
    const order = { type: 'setBench', id: 'limitsSwapped', isOn: true } as const;
    expect(await panel.carryOut('127.0.0.1', stranger.port, order)).toBeUndefined();
    expect(await panel.carryOut('192.0.2.1', server.port, order)).toBeUndefined();
    expect(await panel.carryOut('127.0.0.1', await freePort(), order)).toBeUndefined();
    expect(await panel.carryOut('127.0.0.1', server.port, { ...order, id: 'store' })).toBeUndefined();
    expect(lines.size).toBe(0);
  });
});
