import { describe, expect, it } from 'vitest';
import { makeServo } from '../index.ts';
import { feedWorld } from '../world/demoCell.ts';
import { makeHost } from './host.ts';

const perMillimetre = feedWorld.countsPerRevolution / 5;

/** Two sides of a beam, the second so many mm ahead, its switch so many mm behind that of the first; homed by their controller. */
function homed(options: { ahead: number; offset?: number; planned?: number; limit?: number; method?: number }) {
  const { ahead, offset = 0, planned = offset, limit = 5, method = 27 } = options;
  // Flags of 6 mm; limits of the drives would swallow pulses.
  const { from, to } = feedWorld.homeSwitch;
  const shift = Math.round(offset * perMillimetre);
  const sides = [
    makeServo({ ...feedWorld, startCounts: 20 * perMillimetre }),
    makeServo({
      ...feedWorld,
      startCounts: Math.round((20 + ahead) * perMillimetre),
      homeSwitch: { from: from + shift, to: to + shift },
    }),
  ] as const;
  const [first, second] = [sides[0].device, sides[1].device];
  for (const side of [first, second])
    for (const [key, value] of [
      ['gearNumerator', 2 ** 20],
      ['gearDenominator', 5000],
    ] as const) {
      side.parameters.write(key, value);
      side.parameters.store();
      side.parameters.restart();
      side.parametersChanged();
    }
  const { device: host } = makeHost([first, second]);
  for (const [key, value] of [
    ['stepsPerUnit', 1_000_000],
    ['homingMethod', method],
    ['homingSearchSpeed', 10_000],
    ['homingCreepSpeed', 1000],
    ['homingAcceleration', 200_000],
    ['squaringOffset', planned * 1000],
    ['skewLimit', limit * 1000],
  ] as const)
    host.parameters.write(key, Math.round(value));
  const pass = (seconds: number) => {
    for (let t = 0; t < seconds - 1e-9; t += 0.004) for (const device of [host, first, second]) device.advance(0.004);
  };
  host.cells().servoOn?.write?.(1);
  pass(0.2);
  expect(host.home()).toBe(true);
  const at = () => [first, second].map(({ mechanics }) => mechanics.loadCounts / perMillimetre) as [number, number];
  return { host, first, second, pass, at };
}

const until = (pass: (seconds: number) => void, done: () => boolean) => {
  for (let waited = 0; !done() && waited < 60; waited += 0.2) pass(0.2);
};
/** mm: a look at creep speed, a step, and the lag of both sides. */
const slack = 0.05;

describe('a pair homed by its controller', () => {
  it.each([
    ['the second ahead', 1.5],
    ['the second behind', -1.5],
    ['square', 0],
    ['the second on its switch where the first homes', -3],
  ])('is square afterwards: %s', (_, ahead) => {
    const { host, pass, at } = homed({ ahead });
    until(pass, () => !host.isRunning);
    pass(0.5);
    const [first, second] = at();
    expect(host.isHomed).toBe(true);
    expect(Math.abs(second - first)).toBeLessThan(slack);
    expect(Math.abs((host.cells().skew?.read() ?? NaN) / 1000 - ahead)).toBeLessThan(slack);
  });

  it('with switches that are not at the same place needs the squaring offset, and is skewed by what is wrong with it', () => {
    const right = homed({ ahead: 1, offset: 0.8 });
    until(right.pass, () => !right.host.isRunning);
    right.pass(0.5);
    const [a, b] = right.at();
    expect(Math.abs(b - a)).toBeLessThan(slack);

    const wrong = homed({ ahead: 1, offset: 0.8, planned: 0.3 });
    until(wrong.pass, () => !wrong.host.isRunning);
    wrong.pass(0.5);
    const [c, d] = wrong.at();
    expect(Math.abs(d - c - 0.5)).toBeLessThan(slack);
  });

  it('switches both sides off where the second is farther off than the skew limit, and is not homed', () => {
    const { host, first, second, pass, at } = homed({ ahead: 4, limit: 2 });
    until(pass, () => !host.isRunning);
    pass(0.5);
    expect([host.isHomed, host.cells().skewTripped?.read(), first.isRunning, second.isRunning]).toEqual([
      false,
      1,
      false,
      false,
    ]);
    // It gave up as soon as it knew.
    const [, before] = at();
    pass(1);
    expect(at()[1]).toBe(before);
  });

  it('a stop while the second side is squared ends it, and it is not homed', () => {
    const { host, pass, at } = homed({ ahead: 3 });
    // The first stands at home; the second is on its way.
    until(pass, () => host.position < -5000);
    until(pass, () => Math.abs(host.position) < 500);
    pass(1);
    expect(host.isRunning).toBe(true);
    host.stop();
    const [, before] = at();
    pass(1);
    expect([host.isRunning, host.isHomed]).toEqual([false, false]);
    expect(Math.abs(at()[1] - before)).toBeLessThan(0.05);
  });
});
