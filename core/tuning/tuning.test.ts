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
  notchFor,
  phases,
  readMove,
  resonanceOf,
  stepResponse,
  suggestGains,
  tuningAdvice,
  uncertainty,
  wantedMargins,
  type LoopModel,
  type MoveReading,
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
    // Of the mechanics alone: an open speed loop with nothing else in it.
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

describe('a small step of the position', () => {
  it('of a stiff axis without lag follows the closed form of second order', () => {
    // θ'' = ωs·(Kp·(1 − θ) − θ'): ωn² = ωs·Kp, 2·ζ·ωn = ωs (Ogata, Modern Control Engineering).
    const model = { ...base, torqueTimeConstant: 0, filterTime: 0, speedIntegralTime: 0, positionGain: 150 };
    const values = stepResponse(model, 0.08, 81);
    const natural = Math.sqrt(300 * 150);
    const zeta = 300 / (2 * natural);
    const damped = natural * Math.sqrt(1 - zeta ** 2);
    values.forEach((got, k) => {
      const t = k / 1000;
      const want =
        1 - Math.exp(-zeta * natural * t) * (Math.cos(damped * t) + ((zeta * natural) / damped) * Math.sin(damped * t));
      expect(Math.abs(got - want), `${t} s`).toBeLessThan(0.005);
    });
  });

  it('comes to rest exactly where the margins say that the loops are stable', () => {
    const next = random(11);
    const spread = (low: number, high: number) => low * (high / low) ** next();
    for (let n = 0; n < 60; n++) {
      const resonance = 2 * Math.PI * spread(30, 300);
      const reduced = (motorInertia * loadInertia) / (motorInertia + loadInertia);
      const model: LoopModel = {
        ...base,
        stiffness: n % 3 === 0 ? undefined : reduced * resonance ** 2,
        damping: n % 3 === 0 ? 0 : 0.06 * reduced * resonance,
        deadTime: spread(5e-5, 1e-3),
        speedGain: spread(30, 3000) * (motorInertia + loadInertia),
        positionGain: spread(5, 400),
        notch: n % 2 === 0 ? undefined : { frequency: resonance, width: 0.6, depth: 0.1 },
      };
      const { speed, position } = marginsOfModel(model);
      // At the very edge nothing comes to rest in the time that is looked at.
      if (
        Math.min(speed.gainMargin, position.gainMargin) < 1 ||
        Math.max(speed.peakSensitivity, position.peakSensitivity) > 12
      )
        continue;
      const tail = stepResponse(model, 4, 4001).slice(3500);
      const isAtRest = tail.every((each) => Math.abs(each - 1) < 0.05);
      expect(isAtRest, `${n}: ${JSON.stringify({ model, speed, position })}`).toBe(speed.isStable && position.isStable);
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

  it('have a notch at the resonance where the drive has one: more bandwidth, with the same margins', () => {
    // Load and rotor alike.
    const reduced = motorInertia / 2;
    const resonance = 2 * Math.PI * 200;
    const plant: TunedPlant = {
      ...{ ...base, loadInertia: motorInertia, deadTime: 0.0002 },
      ...{ stiffness: reduced * resonance ** 2, damping: 0.04 * reduced * resonance },
    };
    const notch = notchFor(plant);
    expect(notch?.frequency).toBeCloseTo(resonance, 6);
    const [without, withNotch] = [suggestGains(plant, 3000), suggestGains({ ...plant, notch }, 3000)];
    // Not much, since the resonance may be elsewhere by a sixth.
    expect(withNotch?.bandwidth).toBeGreaterThan(without?.bandwidth ?? Infinity);
    // Of the notch itself: its depth at its frequency, nothing far from it.
    const at = Float64Array.of(resonance, 0.01 * resonance, 100 * resonance);
    const [bare, notched] = [base, { ...base, notch }].map((model) => decibels(loopResponses(model, at).speedOpen));
    const off = [0, 1, 2].map((k) => (notched?.[k] ?? 0) - (bare?.[k] ?? 0));
    expect(off[0]).toBeCloseTo(-20, 6);
    expect(Math.abs(off[1] ?? 1) + Math.abs(off[2] ?? 1)).toBeLessThan(0.01);
  });

  it('say what limits them', () => {
    const plant = { ...base, deadTime: 0.0002 };
    expect(suggestGains(plant, 50)).toMatchObject({ bandwidth: 50, limitedBy: 'the bandwidth wanted' });
    expect(suggestGains(plant, 5000)?.limitedBy).toBe('the delays of the drive');
    expect(suggestGains({ ...plant, stiffness: 3, damping: 0.001 }, 5000)?.limitedBy).toBe('the resonance');
  });
});

describe('advice', () => {
  const settings = {
    positionGain: 40,
    speedBandwidth: 260,
    speedIntegralTime: 20,
    velocityFeedforward: 60,
    inPosition: 0.05,
  };
  const reading: MoveReading = {
    ...{ errorPerSpeed: 0, errorPerAcceleration: 0, explained: 1, residual: 0.01, peakError: 1, overshoot: 0 },
    ...{ ringing: undefined, saturated: 0, creep: undefined },
  };
  const adviceFor = (more: Partial<MoveReading>, by: Partial<typeof settings> = {}) =>
    tuningAdvice({ ...reading, ...more }, { ...settings, ...by }, (value) => `${value} mm`);

  it('raises the feedforward by what the lag says, and lowers it where the axis leads', () => {
    // (1 − 0.6)/40 s of lag are 40 % of feedforward.
    expect(adviceFor({ errorPerSpeed: 0.01 })).toMatchObject([
      { id: 'lags', change: { setting: 'velocityFeedforward', from: 60, to: 100 }, expectedError: 0.01 },
    ]);
    expect(adviceFor({ errorPerSpeed: -0.005 })).toMatchObject([{ id: 'leads', change: { to: 40 } }]);
    expect(adviceFor({ errorPerSpeed: 0.01 }, { velocityFeedforward: 100 })).toEqual([]);
  });

  it('says that the torque is the limit before it says anything of gains', () => {
    expect(adviceFor({ saturated: 0.3, errorPerSpeed: 0.01, overshoot: 3 }).map(({ id }) => id)).toEqual(['saturates']);
  });

  it('names ringing with its frequency, creep, and overshoot', () => {
    expect(adviceFor({ ringing: { frequency: 35.2, amplitude: 0.4 }, overshoot: 0.5 })).toMatchObject([
      {
        id: 'rings',
        message: expect.stringContaining('35.2 Hz') as string,
        change: { setting: 'speedBandwidth', to: 182 },
      },
    ]);
    expect(adviceFor({ creep: { error: 0.4, seconds: 0.1 } })).toMatchObject([
      { id: 'creeps', change: { setting: 'speedIntegralTime', to: 13.3 } },
    ]);
    expect(adviceFor({ overshoot: 0.4 })).toMatchObject([{ id: 'overshoots', change: { to: 30 } }]);
    expect(adviceFor({})).toEqual([]);
  });

  it('followed on the plant it makes the error as small as it says', () => {
    const limits = { speed: 400, acceleration: 3000, jerk: undefined };
    const [there, back] = [planMove(200, limits), planMove(-200, limits)];
    const unitsPerCount = 10 / smoothServo.countsPerRevolution;
    const moves = thereAndBack(there, back, 0.4, 1);
    const stops = moves.map(({ at, move }, k) => ({
      at: Math.round((at + move.duration) / 0.001),
      direction: (k % 2 === 0 ? 1 : -1) as 1 | -1,
    }));
    const read = (feedforward: number) => {
      const servo = {
        ...{ ...smoothServo, viscousFriction: 0, positionGain: 40, velocityFeedforward: feedforward / 100 },
        ...{ gearNumerator: 1, gearDenominator: 1 },
      };
      const order = {
        servo,
        moves,
        duration: 3,
        start: 0,
        unitsPerCount,
        stepsPerUnit: 1 / unitsPerCount,
        pulses: false,
      };
      return readMove(runMoves({ ...order, recordPeriod: 0.001 }).recording, stops, undefined);
    };
    const first = read(50);
    if (!first) throw new Error('nothing was read');
    const [advice] = tuningAdvice(first, { ...settings, velocityFeedforward: 50 }, String);
    expect(advice?.change?.setting).toBe('velocityFeedforward');
    const after = read(advice?.change?.to ?? 0);
    expect(after?.peakError).toBeLessThan(0.4 * first.peakError);
    expect(after?.peakError).toBeLessThan(2 * (advice?.expectedError ?? 0) + 0.1);
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
