import { describe, expect, it } from 'vitest';
import { planMove } from '../motion/index.ts';
import {
  runMoves,
  servoCoefficients,
  servoState,
  stepServo,
  thereAndBack,
  type ServoDefinition,
} from '../plant/index.ts';
import { smoothServo } from '../test/smoothServo.ts';
import {
  decibels,
  logarithmic,
  loopResponses,
  marginsOf,
  marginsOfModel,
  phases,
  readMove,
  resonanceOf,
  suggestGains,
  uncertainty,
  wantedMargins,
  type LoopModel,
  type Response,
  type TunedPlant,
} from './index.ts';

/** A response by its formula: [real, imaginary] at s = j·w. */
function responseOf(frequencies: Float64Array, formula: (w: number) => readonly [number, number]): Response {
  const points = [...frequencies].map(formula);
  return {
    frequencies,
    real: Float64Array.from(points, ([re]) => re),
    imaginary: Float64Array.from(points, ([, im]) => im),
  };
}

/** 1/(product of (s + p)) times a gain; a pole of 0 is an integrator. */
const poles = (gain: number, ...at: readonly number[]) =>
  responseOf(logarithmic(1e-3, 1e4, 4000), (w) => {
    const size = at.reduce((product, p) => product / Math.hypot(p, w), gain);
    const angle = at.reduce((sum, p) => sum - Math.atan2(w, p), 0);
    return [size * Math.cos(angle), size * Math.sin(angle)];
  });

describe('margins', () => {
  it.each([
    // Ogata, Modern Control Engineering, stability margins of K/(s(s + 1)(s + 5)), from memory: 9.54 dB at √5, 25.4° with K = 10;
    // unstable from K = 30 on.
    [10, 20 * Math.log10(3), 25.4, true],
    [100, Infinity, undefined, false],
    [29, 20 * Math.log10(30 / 29), undefined, true],
    [31, Infinity, undefined, false],
  ])('of K/(s(s + 1)(s + 5)) with K = %d', (gain, gainMargin, phaseMargin, isStable) => {
    const got = marginsOf(poles(gain, 0, 1, 5), 1);
    expect(got.isStable).toBe(isStable);
    if (isStable) expect(got.gainMargin).toBeCloseTo(gainMargin, 2);
    if (phaseMargin !== undefined) expect(got.phaseMargin).toBeCloseTo(phaseMargin, 1);
  });

  it.each([0.2, 0.5, 0.707])('of a second-order loop with a damping of %d', (damping) => {
    // Franklin, Powell, Emami-Naeini: tan PM = 2ζ/√(√(1 + 4ζ⁴) − 2ζ²).
    const got = marginsOf(poles(100 ** 2, 0, 2 * damping * 100), 1);
    const wanted = Math.atan((2 * damping) / Math.sqrt(Math.sqrt(1 + 4 * damping ** 4) - 2 * damping ** 2));
    expect(got.phaseMargin).toBeCloseTo((wanted * 180) / Math.PI, 1);
    expect([got.isStable, got.gainMargin]).toEqual([true, Infinity]);
    expect(got.crossover).toBeCloseTo(100 * Math.sqrt(Math.sqrt(1 + 4 * damping ** 4) - 2 * damping ** 2), 1);
  });

  it('two integrators alone are not stable, with a zero they are', () => {
    expect(marginsOf(poles(1, 0, 0, 10), 2).isStable).toBe(false);
    const lead = responseOf(logarithmic(1e-3, 1e4, 4000), (w) => [-1 / w ** 2, -1 / w]);
    const got = marginsOf(lead, 2);
    // (s + 1)/s²: at a gain of one w² = (1 + √5)/2, and the phase is −180° + atan w.
    const w = Math.sqrt((1 + Math.sqrt(5)) / 2);
    expect(got.isStable).toBe(true);
    expect(got.phaseMargin).toBeCloseTo((Math.atan(w) * 180) / Math.PI, 1);
  });
});

const motorInertia = smoothServo.rotorInertia;
const loadInertia = smoothServo.loadInertia;
const base: LoopModel = {
  motorInertia,
  loadInertia,
  stiffness: undefined,
  damping: 0,
  torqueTimeConstant: 0.0005,
  filterTime: 0.0003,
  deadTime: 0,
  speedGain: 300 * (motorInertia + loadInertia),
  speedIntegralTime: 0.03,
  positionGain: 30,
};

describe('the model of the loops', () => {
  it('has its resonance and antiresonance where the closed form says', () => {
    const model = { ...base, stiffness: 60, damping: 0.0005 };
    const { resonance = 0, antiresonance = 0 } = resonanceOf(model) ?? {};
    expect(antiresonance).toBeCloseTo(Math.sqrt(60 / loadInertia), 6);
    const frequencies = logarithmic(antiresonance / 3, resonance * 3, 20000);
    // Of the mechanics alone: a cut speed loop with nothing else in it.
    const bare = { ...model, torqueTimeConstant: 0, filterTime: 0, speedIntegralTime: 0, speedGain: 1 };
    const gains = decibels(loopResponses(bare, frequencies).speedOpen);
    const flat = gains.map((gain, k) => gain + 20 * Math.log10(frequencies[k] ?? 1));
    expect(frequencies[flat.indexOf(Math.max(...flat))]).toBeCloseTo(resonance, -1);
    expect(frequencies[flat.indexOf(Math.min(...flat))]).toBeCloseTo(antiresonance, -1);
  });

  it.each([
    ['a rigid axis', {}, [5, 20, 45, 90]],
    ['two masses', { stiffness: 60, damping: 0.02 }, [5, 20, 45]],
  ] as const)('agrees with the stepped plant, excited by a sine: %s', (_, more, hertz) => {
    const definition: ServoDefinition = {
      ...smoothServo,
      stepRate: 32000,
      commandedBy: 'speed',
      viscousFriction: 0,
      coulombFriction: 0,
      gravityTorque: 0,
      speedBandwidth: 300,
      assumedInertiaRatio: loadInertia / motorInertia,
      speedIntegralTime: base.speedIntegralTime,
      torqueTimeConstant: base.torqueTimeConstant,
      velocityFilterTime: base.filterTime,
      torqueLimit: 1e6,
      peakTorque: 1e6,
      ...more,
    };
    const c = servoCoefficients(definition);
    for (const each of hertz) {
      const w = 2 * Math.PI * each;
      const s = servoState(0, definition.countsPerRevolution);
      const cycle = definition.stepRate / each;
      let [sine, cosine] = [0, 0];
      const settled = Math.ceil(6 / (1 / 0.3) / (1 / each)) + 4;
      for (let k = 0; k < (settled + 4) * cycle; k++) {
        const t = k / definition.stepRate;
        stepServo(c, s, Math.sin(w * t));
        if (k < settled * cycle) continue;
        sine += (2 * s.motorSpeed * Math.sin(w * t)) / (4 * cycle);
        cosine += (2 * s.motorSpeed * Math.cos(w * t)) / (4 * cycle);
      }
      // The speed demanded is not filtered here, the measured one is: the loop of the model, without its filter in the way ahead.
      const { speedClosed } = loopResponses({ ...base, ...more }, Float64Array.of(w));
      const gain = 20 * Math.log10(Math.hypot(sine, cosine)) - (decibels(speedClosed)[0] ?? 0);
      const phase = (Math.atan2(cosine, sine) * 180) / Math.PI - (phases(speedClosed)[0] ?? 0);
      const filter = 20 * Math.log10(Math.hypot(1, w * base.filterTime));
      const ahead = (Math.atan(w * base.filterTime) * 180) / Math.PI;
      expect(Math.abs(gain - filter), `${each} Hz`).toBeLessThan(1);
      expect(Math.abs(phase - ahead - 360 * Math.round((phase - ahead) / 360)), `${each} Hz`).toBeLessThan(5);
    }
  });
});

/** Park and Miller. */
function random(seed: number): () => number {
  let state = seed;
  return () => (state = (state * 48271) % 2147483647) / 2147483647;
}

describe('suggested gains', () => {
  it(
    'keep their margins on random two-mass axes, whatever inertia and stiffness are within ±30 %',
    { timeout: 600_000 },
    () => {
      const next = random(7);
      const spread = (low: number, high: number) => low * (high / low) ** next();
      const count = process.env.KAVRID_PROOF ? 1000 : 25;
      for (let n = 0; n < count; n++) {
        const motor = spread(1e-5, 1e-2);
        const plant: TunedPlant = {
          motorInertia: motor,
          loadInertia: motor * spread(0.2, 20),
          stiffness: undefined,
          damping: 0,
          torqueTimeConstant: spread(1e-4, 2e-3),
          filterTime: spread(1e-4, 1e-3),
          deadTime: spread(5e-5, 5e-4),
        };
        const total = plant.motorInertia + plant.loadInertia;
        const reduced = (plant.motorInertia * plant.loadInertia) / total;
        const resonance = 2 * Math.PI * spread(15, 500);
        const stiffness = reduced * resonance ** 2;
        // Two per cent of critical damping.
        const elastic = n % 5 === 0 ? plant : { ...plant, stiffness, damping: 0.04 * reduced * resonance };
        const got = suggestGains(elastic, 2 * Math.PI * spread(10, 200));
        expect(got, `plant ${n}`).toBeDefined();
        if (!got) continue;
        for (let k = 0; k < 3; k++) {
          const off = () => 1 + uncertainty * (2 * next() - 1);
          const real = {
            ...elastic,
            loadInertia: elastic.loadInertia * off(),
            stiffness: elastic.stiffness === undefined ? undefined : elastic.stiffness * off(),
          };
          const { speed, position } = marginsOfModel({ ...real, ...got });
          for (const margins of [speed, position]) {
            expect(margins.isStable, `plant ${n}`).toBe(true);
              expect(margins.phaseMargin, `plant ${n}`).toBeGreaterThanOrEqual(wantedMargins.phaseMargin);
            expect(margins.gainMargin, `plant ${n}`).toBeGreaterThanOrEqual(wantedMargins.gainMargin);
            expect(margins.peakSensitivity, `plant ${n}`).toBeLessThanOrEqual(wantedMargins.peakSensitivity);
          }
        }
      }
    },
  );

  it('say what limits them', () => {
    const plant = { ...base, deadTime: 0.0002 };
    expect(suggestGains(plant, 50)).toMatchObject({ bandwidth: 50, limitedBy: 'the bandwidth wanted' });
    expect(suggestGains(plant, 5000)?.limitedBy).toBe('the delays of the drive');
    expect(suggestGains({ ...plant, stiffness: 3, damping: 0.001 }, 5000)?.limitedBy).toBe('the resonance');
  });
});

describe('what a trace of moves says', () => {
  const period = 0.001;
  /** A trapezoid of 1 s at 100 units/s, 500 units/s², and an error that is worked out from it. */
  function trace(errorOf: (t: number, v: number, a: number) => number) {
    const count = 2000;
    const [up, hold] = [0.2, 1];
    const speedAt = (t: number) => (t < up ? 500 * t : t < hold ? 100 : t < hold + up ? 100 - 500 * (t - hold) : 0);
    const accelerationAt = (t: number) => (t < up ? 500 : t < hold ? 0 : t < hold + up ? -500 : 0);
    let position = 0;
    const demandPosition = Float64Array.from({ length: count }, (_, k) => {
      position += speedAt((k - 0.5) * period) * (k > 0 ? period : 0);
      return position;
    });
    const followingError = Float64Array.from({ length: count }, (_, k) =>
      errorOf(k * period, speedAt(k * period), accelerationAt(k * period)),
    );
    const torque = new Float64Array(count).fill(50);
    return {
      channels: {
        period,
        demandPosition,
        actualPosition: demandPosition,
        actualSpeed: demandPosition,
        followingError,
        torque,
      },
      stops: [{ at: Math.round((hold + up) / period), direction: 1 as const }],
    };
  }

  it('an error by speed and by acceleration are told apart', () => {
    const { channels, stops } = trace((_, v, a) => 0.004 * v + 0.0002 * a);
    const got = readMove(channels, stops, 200);
    expect(got?.errorPerSpeed).toBeCloseTo(0.004, 4);
    expect(got?.errorPerAcceleration).toBeCloseTo(0.0002, 5);
    expect(got?.explained).toBeGreaterThan(0.99);
    expect([got?.saturated, got?.ringing, got?.creep]).toEqual([0, undefined, undefined]);
    // At its torque limit all the time.
    expect(readMove(channels, stops, 50)?.saturated).toBe(1);
  });

  it('ringing is named with its frequency, a slow creep with its time, overshoot with its height', () => {
    const ringing = trace(
      (t, v) => 0.001 * v + (t < 1.2 ? 0 : 0.3 * Math.exp(-(t - 1.2) / 0.12) * Math.sin(2 * Math.PI * 35 * (t - 1.2))),
    );
    const rings = readMove(ringing.channels, ringing.stops, undefined);
    expect(rings?.ringing?.frequency).toBeGreaterThan(33);
    expect(rings?.ringing?.frequency).toBeLessThan(37);
    expect(rings?.overshoot).toBeGreaterThan(0.2);
    const creeping = trace((t) => (t < 1.2 ? 0.5 : 0.5 * Math.exp(-(t - 1.2) / 0.1)));
    const creeps = readMove(creeping.channels, creeping.stops, undefined);
    // A third is left after 0.1 · ln 3.
    expect(creeps?.creep?.seconds).toBeCloseTo(0.1 * Math.log(3), 2);
    expect([creeps?.ringing, creeps?.overshoot]).toEqual([undefined, 0]);
  });

  it('of the plant is the lag of its loop: (1 − feedforward)/gain', () => {
    const limits = { speed: 400, acceleration: 4000, jerk: undefined };
    const [there, back] = [planMove(200, limits), planMove(-200, limits)];
    const unitsPerCount = 10 / smoothServo.countsPerRevolution;
    const servo = {
      ...smoothServo,
      viscousFriction: 0,
      positionGain: 40,
      velocityFeedforward: 0.6,
      gearNumerator: 1,
      gearDenominator: 1,
    };
    const moves = thereAndBack(there, back, 0.3, 1);
    const { recording } = runMoves({
      servo,
      moves,
      duration: 2.5,
      start: 0,
      unitsPerCount,
      stepsPerUnit: 1 / unitsPerCount,
      pulses: false,
      recordPeriod: period,
    });
    const stops = moves.map(({ at, move }, k) => ({
      at: Math.round((at + move.duration) / period),
      direction: (k % 2 === 0 ? 1 : -1) as 1 | -1,
    }));
    const got = readMove(recording, stops, undefined);
    expect(Math.abs((got?.errorPerSpeed ?? 0) - 0.4 / 40)).toBeLessThan(0.05 * (0.4 / 40));
  });
});
