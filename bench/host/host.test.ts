import { formMismatch, pulseForms } from '@kavrid/core/signal';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { countedForms, PulseInput } from '../devices/pulseInput.ts';
import { carriageWorld, makeServo } from '../index.ts';
import { runs } from '../test/runs.ts';
import { makeHost } from './host.ts';
import { PulseOutput } from './pulseOutput.ts';

/** Far from its limits in both directions. */
const middle = { ...carriageWorld, startCounts: Math.round((carriageWorld.plusLimit ?? 0) / 2) };

function axis(settings: Readonly<Record<string, number>> = {}, world = middle) {
  const servo = makeServo(world).device;
  const host = makeHost(servo).device;
  // 12288/125 counts a pulse: 100 pulses/mm on this belt.
  const drive = { gearNumerator: 12288, gearDenominator: 125, inertiaRatio: 1640, followingErrorWindow: 2_000_000_000 };
  for (const [key, raw] of Object.entries(drive)) servo.parameters.write(key, raw);
  Object.assign(servo.parameters.running, servo.parameters.written);
  for (const [key, raw] of Object.entries(settings)) host.parameters.write(key, raw);
  servo.parametersChanged();
  const pass = (seconds: number) => {
    for (let t = 0; t < seconds - 1e-9; t += 0.004) {
      host.advance(0.004);
      servo.advance(0.004);
    }
  };
  const finish = () => {
    for (let waited = 0; host.isRunning && waited < 60; waited += 0.1) pass(0.1);
    pass(1);
  };
  const servoOn = (is = true) => {
    servo.terminals.outputs.set('controller: servo on', is);
    pass(0.01);
  };
  const { mechanics } = servo;
  return { servo, host, mechanics, pass, finish, servoOn };
}

describe('a host that sends pulses to a drive', () => {
  it('100 mm are 10 000 pulses, and by the gear 983 040 counts at the motor; back again it is where it was', () => {
    const { host, mechanics, finish, servoOn, servo } = axis();
    servoOn();
    const start = mechanics.demandCounts;
    expect(host.moveBy(100)).toBe(true);
    finish();
    expect([host.sent, servo.pulses.counted, mechanics.demandCounts - start]).toEqual([10000, 10000, 983040]);
    expect(Math.abs(mechanics.positionCounts - mechanics.demandCounts)).toBeLessThan(100);
    host.moveBy(-100);
    finish();
    expect([host.sent, mechanics.demandCounts - start]).toEqual([0, 0]);
  });

  it('repeats its last move back and forth, and a stop ends all of it', () => {
    const { host, finish, servoOn, pass, servo } = axis({ acceleration: 20_000_000 });
    servoOn();
    expect(host.repeat(2)).toBe(false);
    host.moveBy(20);
    finish();
    expect([host.sent, host.repeat(2), host.repeat(1)]).toEqual([2000, true, false]);
    finish();
    // Twice there and back: four moves of 2000 pulses each, and it is where it was.
    expect(host.sent).toBe(2000);
    host.repeat(50);
    pass(1);
    host.stop();
    const stopped = host.sent;
    pass(1);
    expect([host.isRunning, host.sent]).toEqual([false, stopped]);
    expect(servo.pulses.counted).toBe(stopped);
  });

  it('loses no count whatever is sent: demand = increments · N / D to the last one', () => {
    const { host, mechanics, finish, servoOn, servo } = axis({ acceleration: 20_000_000, maximumRate: 400_000 });
    // The position loop is not what is looked at.
    servo.parameters.write('torqueLimit', 0);
    servo.parametersChanged();
    servoOn();
    const start = mechanics.demandCounts;
    let sum = 0;
    fc.assert(
      fc.property(fc.integer({ min: -40_000, max: 40_000 }), (pulses) => {
        if (pulses === 0) return;
        host.cells().burstRate?.write?.(399_999);
        host.burst(pulses);
        sum += pulses;
        while (host.isRunning) {
          host.advance(0.016);
          servo.advance(0.016);
        }
        expect(host.sent).toBe(sum);
      }),
      { numRuns: runs(12, 500), seed: 11, endOnFailure: true },
    );
    finish();
    expect(servo.pulses.counted).toBe(sum);
    const wanted = (sum * 12288) / 125;
    expect(Math.abs(mechanics.demandCounts - start - wanted)).toBeLessThan(1);
  });

  // By hand, for 400 increments to plus and then 400 to minus, from lines that are low.
  it.each([
    // The direction line rises once, which counts −1; pulses count plus whatever the direction.
    ['step and direction', 'clockwise and counter-clockwise', 399, 400],
    // The second line stays low, which is minus; minus pulses come on it, where none are counted.
    ['clockwise and counter-clockwise', 'step and direction', -400, 0],
    // Phase A rises once in four, with phase B low towards plus, which means minus.
    ['quadrature', 'step and direction', -100, 100],
    ['quadrature', 'clockwise and counter-clockwise', 0, 0],
    ['clockwise and counter-clockwise', 'quadrature', 0, 0],
  ] as const)('%s, counted as %s: %i to plus, %i to minus', (sent, counted, plus, minus) => {
    const [output, input] = [new PulseOutput(), new PulseInput()];
    const count = (increments: number) => {
      input.arrive(output.send(sent, increments));
      return input.take(counted);
    };
    expect([count(400), count(-400)]).toEqual([plus, minus]);
    // The computation of findings, written on its own, says the same of long trains.
    const form = (name: (typeof countedForms)[number]) => pulseForms[countedForms.indexOf(name)] ?? 'stepDirection';
    const mismatch = formMismatch(form(sent), form(counted));
    expect(Math.abs((mismatch?.forPlus ?? NaN) * 400 - plus)).toBeLessThanOrEqual(1);
    expect(Math.abs((mismatch?.forMinus ?? NaN) * 400 - minus)).toBeLessThanOrEqual(1);
  });

  it('slows down a move that asks for more pulses than it can send, and says so', () => {
    const { host, finish, servoOn, pass } = axis({ speed: 500_000, maximumRate: 10_000 });
    servoOn();
    // 500 mm/s want 50 kHz; at 10 kHz 50 mm take 0.5 s and a ramp of 0.1 s.
    host.moveBy(50);
    expect(host.isRateLimited).toBe(true);
    pass(0.56);
    expect(host.isRunning).toBe(true);
    pass(0.05);
    expect(host.isRunning).toBe(false);
    finish();
    expect(host.sent).toBe(5000);
  });

  it('the drive follows pulses only while servo on is there, and not by the bus', () => {
    const { servo, host, mechanics, finish, servoOn, pass } = axis();
    const start = mechanics.positionCounts;
    for (const word of [6, 7, 15]) servo.control(word);
    expect(servo.state).not.toBe('operation enabled');
    host.moveBy(20);
    finish();
    expect(Math.abs(mechanics.positionCounts - start)).toBeLessThan(10);
    servoOn();
    expect(servo.state).toBe('operation enabled');
    // What was sent before it was on is not made up for.
    pass(0.5);
    expect(Math.abs(mechanics.positionCounts - start)).toBeLessThan(10);
    servoOn(false);
    expect(servo.state).toBe('switch on disabled');
  });

  it('stops at the limit it runs into, and comes back out of it', () => {
    const { host, mechanics, finish, servoOn } = axis({ acceleration: 20_000_000 });
    servoOn();
    host.moveBy(2000);
    finish();
    const struck = mechanics.loadCounts;
    expect(struck).toBeGreaterThanOrEqual(carriageWorld.plusLimit ?? 0);
    expect(struck).toBeLessThan((carriageWorld.plusLimit ?? 0) + 100 * 9830);
    host.moveBy(-50);
    finish();
    expect(struck - mechanics.loadCounts).toBeGreaterThan(40 * 9830);
  });

  it('a trip of the drive ends what the host sends; alarm reset and servo on start again', () => {
    const { servo, host, finish, servoOn, pass } = axis({ acceleration: 20_000_000 });
    servo.parameters.write('followingErrorWindow', 500);
    servo.parametersChanged();
    servoOn();
    host.moveBy(200);
    finish();
    expect([servo.state, servo.error, host.isRunning]).toEqual(['fault', 0x8611, false]);
    expect(Math.abs(host.sent)).toBeLessThan(5000);
    servoOn(false);
    servo.terminals.outputs.set('controller: alarm reset', true);
    pass(0.01);
    expect(servo.state).toBe('switch on disabled');
    servoOn();
    expect(servo.state).toBe('operation enabled');
  });
});
