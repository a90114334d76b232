import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { known, unknown, valueOf } from '../sheet/index.ts';
import {
  braking,
  brakeResistor,
  capacitorEnergy,
  coastingTime,
  connectionFor,
  contradictionsOf,
  corrected,
  countsFor,
  hertzFor,
  noLoadShare,
  plateResult,
  polesFor,
  regionAt,
  ruinOf,
  shortestRamp,
  speedRange,
  synchronousSpeed,
  tachometer,
  timeToSpeed,
  toolRpmOf,
  toolStep,
  voltsAt,
  worstFluxHertz,
  wrapped,
  type SpindlePlate,
  type SpeedWord,
  type VoltsPerHertz,
} from './index.ts';

const none = unknown('not filled in');
/** 2.2 kW, 230/400 V, 8.0/4.6 A, 50 Hz, 2850 rpm, cos φ 0.85. */
const plate: SpindlePlate = {
  power: known(2200),
  hertz: known(50),
  speed: known(2850),
  poles: known(2),
  star: { volts: 400, amps: 4.6 },
  delta: { volts: 230, amps: 8 },
  powerFactor: known(0.85),
};

describe('the plate', () => {
  it.each([
    // IEC 60034-1, NEMA MG 1: 120·f/poles
    [2, 50, 3000],
    [4, 50, 1500],
    [6, 50, 1000],
    [8, 50, 750],
    [2, 60, 3600],
    [4, 60, 1800],
    [6, 60, 1200],
    [2, 300, 18000],
    [2, 400, 24000],
    [4, 400, 12000],
  ])('%d poles at %d Hz turn with %d rpm', (poles, hertz, rpm) => {
    expect(synchronousSpeed(hertz, poles)).toBe(rpm);
    expect(polesFor(hertz, rpm * 0.96)).toBe(poles);
  });

  it('gives slip, and the poles where it does not name them', () => {
    expect(valueOf(plateResult(plate))).toMatchObject({
      poles: 2,
      synchronousSpeed: 3000,
      slip: expect.closeTo(0.05, 12),
    });
    expect(valueOf(plateResult({ ...plate, poles: none }))?.poles).toBe(2);
    expect(valueOf(plateResult({ ...plate, poles: none, speed: known(1420) }))?.poles).toBe(4);
  });

  it('explains poles, hertz and rpm that cannot belong together', () => {
    const words = (changes: Partial<SpindlePlate>) => {
      const result = plateResult({ ...plate, ...changes });
      return result.state === 'unknown' ? result.because : '';
    };
    expect(words({ poles: known(4) })).toContain('above it; 2 poles would match');
    expect(words({ speed: known(2000) })).toContain('too far below');
    expect(words({ poles: known(3), speed: known(1950) })).toContain('an even number of poles, not 3; 2 is possible');
    expect(words({ poles: known(2), hertz: known(50), speed: known(24000) })).toContain('400 Hz would match');
    expect(plateResult({ ...plate, hertz: none })).toBe(none);
  });

  it('a plate that agrees with itself has nothing said of it; each lie is found and explained', () => {
    expect(contradictionsOf(plate)).toEqual([]);
    const ids = (changes: Partial<SpindlePlate>) => contradictionsOf({ ...plate, ...changes }).map(({ id }) => id);
    expect(ids({ star: { volts: 460, amps: 4.6 } })).toContain('volts');
    expect(ids({ delta: { volts: 230, amps: 4.6 } })).toContain('amps');
    // √3 · 400 · 2 · 0.85 = 1.18 kW
    expect(ids({ star: { volts: 400, amps: 2 }, delta: undefined })).toEqual(['power']);
    expect(ids({ power: known(500) })).toEqual(['power', 'power']);
    expect(ids({ poles: known(4) })).toContain('speed');
  });

  it('is connected for the volts that there are', () => {
    expect(valueOf(connectionFor(plate, 230))).toEqual({ connection: 'delta', volts: 230 });
    expect(valueOf(connectionFor(plate, 400))).toEqual({ connection: 'star', volts: 400 });
    expect(connectionFor(plate, 110)).toMatchObject({
      because: expect.stringContaining('it has star 400 V, delta 230 V'),
    });
    // sin φ = 0.527 less 0.2
    expect(noLoadShare(0.85)).toBeCloseTo(0.327, 3);
    expect(connectionFor({ ...plate, star: undefined, delta: undefined }, 400)).toMatchObject({ path: '/motor' });
  });
});

describe('volts per hertz', () => {
  const right: VoltsPerHertz = {
    base: { hertz: 400, volts: 220 },
    boost: 8,
    points: [{ hertz: 100, volts: 60 }],
    highestHertz: 400,
  };
  const high = { hertz: 400, volts: 220 };
  it('goes straight from point to point and stays above the base', () => {
    expect([0, 50, 100, 250, 400, 600].map((hertz) => voltsAt(right, hertz))).toEqual([8, 34, 60, 140, 220, 220]);
  });

  it('gives full torque to the base and full power beyond', () => {
    const curve = { ...right, base: { hertz: 50, volts: 400 }, points: [], boost: 0, highestHertz: 100 };
    const motor = { hertz: 50, volts: 400 };
    expect(regionAt(curve, motor, 25)).toMatchObject({ torque: 1, power: 0.5, kind: 'constant torque' });
    expect(regionAt(curve, motor, 100)).toMatchObject({ torque: 0.5, power: 1, kind: 'constant power' });
  });

  it('finds the ruin: 300 and 400 Hz spindles on a base of 50 or 60 Hz', () => {
    expect(ruinOf(right, high)).toBeUndefined();
    for (const hertz of [300, 400])
      for (const base of [50, 60]) {
        const ruin = ruinOf(
          { base: { hertz: base, volts: 220 }, boost: 0, points: [], highestHertz: hertz },
          { hertz, volts: 220 },
        );
        expect(ruin).toMatchObject({ hertz: base, flux: expect.closeTo(hertz / base, 9) });
        // Nothing against it but a few hundredths of its impedance.
        expect(ruin?.current).toBeGreaterThan(5);
      }
  });
});

describe('the speed reference', () => {
  const chain = { poles: 2, ratio: 1 };
  const word = (each: number, signed: boolean): SpeedWord => ({ counts: { kind: 'hertz', each }, signed, bits: 16 });

  it('400 Hz at 0.01 Hz a count is 40 000: it fits 16 bits unsigned, not signed (common practice)', () => {
    expect(hertzFor(chain, 24000)).toBe(400);
    expect(countsFor(word(0.01, false), chain, 24000)).toEqual(known(40000));
    const signed = countsFor(word(0.01, true), chain, 24000);
    expect(signed).toMatchObject({ because: expect.stringContaining('would read -25536') });
    expect(wrapped({ signed: false, bits: 16 }, 65536 + 5)).toBe(5);
    expect(countsFor(word(0.1, true), chain, 24000)).toEqual(known(4000));
    expect(countsFor(word(0.1, false), chain, -100)).toMatchObject({ state: 'unknown' });
  });

  it('there and back lands within half a count, through a belt and every unit', () => {
    const counts = fc.constantFrom<SpeedWord['counts']>(
      { kind: 'hertz', each: 0.01 },
      { kind: 'hertz', each: 0.1 },
      { kind: 'rpm', each: 1 },
      { kind: 'share', fullScale: 10000, hertz: 400 },
    );
    fc.assert(
      fc.property(
        counts,
        fc.constantFrom(2, 4),
        fc.double({ min: 0.3, max: 4, noNaN: true }),
        fc.integer({ min: 100, max: 3000 }),
        (unit, poles, ratio, rpm) => {
          const own = { poles, ratio };
          const speed: SpeedWord = { counts: unit, signed: false, bits: 32 };
          const back = toolRpmOf(speed, own, valueOf(countsFor(speed, own, rpm)) ?? NaN);
          expect(Math.abs(back - rpm)).toBeLessThanOrEqual(toolStep(speed, own) / 2 + 1e-9);
        },
      ),
    );
  });

  it('the edge grinder by hand: motor to tool 1.5, so 2000 rpm of the tool are 3000 of the motor, 50 Hz', () => {
    expect(hertzFor({ poles: 2, ratio: 1.5 }, 2000)).toBe(50);
    expect(toolStep(word(0.01, false), { poles: 2, ratio: 1.5 })).toBeCloseTo(0.4, 12);
  });
});

describe('ramps and braking', () => {
  const load = { inertia: 0.02, torque: 0.5 };
  const supply = { capacitance: 0.001, busVolts: 560, tripVolts: 780, efficiency: 0.85, idlePower: 30 };
  const speed = 314;

  it('run up by the closed forms: J·ω/T below the base, and as numbers say beyond', () => {
    expect(timeToSpeed({ inertia: 0.02, torque: 0 }, { torque: 7, baseSpeed: 400 }, speed)).toBeCloseTo(
      (0.02 * 314) / 7,
      12,
    );
    const pull = { torque: 7, baseSpeed: 150 };
    // Against a sum of small steps.
    let [time, omega] = [0, 0];
    for (; omega < speed; omega += 0.01) {
      const at = omega + 0.005;
      time += (0.02 * 0.01) / ((at < 150 ? 7 : (7 * 150) / at) - 0.5);
    }
    expect(timeToSpeed(load, pull, speed)).toBeCloseTo(time, 3);
    // By hand without friction: 0.01 · 100 / 10 + 0.01 · (1000² − 100²) / (2 · 10 · 100) = 0.1 + 4.95 s.
    for (const torque of [0, 1e-12, 1e-9, 1e-6])
      expect(timeToSpeed({ inertia: 0.01, torque }, { torque: 10, baseSpeed: 100 }, 1000)).toBeCloseTo(5.05, 4);
    expect(timeToSpeed({ ...load, torque: 0 }, pull, speed)).toBeLessThan(time);
    expect(timeToSpeed({ ...load, torque: 8 }, pull, speed)).toBe(Infinity);
    expect(timeToSpeed({ ...load, torque: 4 }, pull, speed)).toBe(Infinity);
    expect(coastingTime(load, speed)).toBeCloseTo(12.56, 9);
  });

  it('give back what the masses hold, less friction and losses', () => {
    const at = (time: number) => braking(load, supply, speed, time);
    // ½·J·ω² = 986 J; in no time, 85 % of it arrive
    expect(at(1e-6).kinetic).toBeCloseTo(985.96, 2);
    expect(at(1e-6).returned).toBeCloseTo(0.85 * 985.96, 0);
    expect(at(1e-6).busVolts).toBeCloseTo(Math.sqrt(560 ** 2 + (2 * 0.85 * 985.96) / 0.001), 0);
    // As slow as coasting nothing comes back.
    expect(at(coastingTime(load, speed)).returned).toBe(0);
    expect(capacitorEnergy(supply)).toBeCloseTo(0.5 * 0.001 * (780 ** 2 - 560 ** 2), 9);
  });

  it('the shortest ramp without a resistor just does not trip', () => {
    const least = shortestRamp(load, supply, speed);
    expect(braking(load, supply, speed, least).trips).toBe(false);
    expect(braking(load, supply, speed, least * 0.99).trips).toBe(true);
    expect(shortestRamp(load, { ...supply, capacitance: 1 }, speed)).toBe(0);
    // Nothing takes the energy, however slow: 986 J come back into capacitors that hold 147 J.
    expect(shortestRamp({ ...load, torque: 0 }, { ...supply, idlePower: 0 }, speed)).toBe(Infinity);
    expect(shortestRamp({ ...load, torque: 0 }, supply, speed)).toBeLessThan((0.85 * 2 * 986) / 30);
  });

  it('18 000 rpm in 3 s on 2 kW without a brake resistor (common practice) is possible for a small rotor', () => {
    // A rotor of 0.0006 kg·m² at 1885 rad/s: 1066 J, a drive of 2 kW with 820 µF
    const small = { inertia: 0.0006, torque: 0.05 };
    const drive = { capacitance: 0.00082, busVolts: 325, tripVolts: 400, efficiency: 0.6, idlePower: 60 };
    expect(timeToSpeed(small, { torque: 2000 / 1885, baseSpeed: 1885 }, 1885)).toBeLessThan(3);
    expect(shortestRamp(small, drive, 1885)).toBeGreaterThan(3);
  });

  it('is ruined only by what lies within the range of the drive', () => {
    // At 15 Hz on the way from 80 V at 10 Hz to 400 V at 40 Hz: 133.3 V / 15 Hz over 400 V / 50 Hz are 1.111.
    const curve: VoltsPerHertz = {
      base: { hertz: 50, volts: 400 },
      boost: 0,
      points: [
        { hertz: 10, volts: 80 },
        { hertz: 40, volts: 400 },
      ],
      highestHertz: 15,
    };
    const motor = { hertz: 50, volts: 400 };
    expect(worstFluxHertz(curve, motor)).toBe(15);
    expect(regionAt(curve, motor, 15).flux).toBeCloseTo(1.111, 3);
    expect(ruinOf(curve, motor)).toBeUndefined();
    expect(ruinOf({ ...curve, highestHertz: 60 }, motor)).toMatchObject({ hertz: 40, flux: 1.25 });
  });

  it('a resistor lies between what the chopper bears and what the peak wants', () => {
    const quick = braking(load, supply, speed, 1);
    const resistor = brakeResistor(quick, 720, 60, 30);
    // 85 % of (6.28 − 0.5) N·m at 314 rad/s, less 30 W
    expect(quick.peakPower).toBeCloseTo(0.85 * (0.02 * 314 - 0.5) * 314 - 30, 6);
    expect(resistor.most).toBeCloseTo(720 ** 2 / quick.peakPower, 9);
    expect(resistor.meanPower).toBeCloseTo(quick.returned / 30, 9);
    expect(brakeResistor({ peakPower: 0, returned: 0 }, 720, 60, 30).most).toBe(Infinity);
  });
});

describe('the range of a tool', () => {
  const bearings = { name: 'bearings', speed: 9000, at: 'tool', isSetting: false } as const;
  const drive = { name: 'drive', speed: 6000, at: 'motor', isSetting: false } as const;
  const cooling = { name: 'cooling', speed: 900, at: 'motor', isSetting: false } as const;

  it('is bound by the lowest limit, named, on every belt step', () => {
    // Motor to tool 1.5: 6000 rpm of the motor are 4000 of the tool, 900 are 600.
    expect(speedRange({ name: 'slow', ratio: 1.5 }, [cooling], [bearings, drive])).toEqual({
      lowest: 600,
      lowestBy: ['cooling'],
      highest: 4000,
      highestBy: ['drive'],
      isEmpty: false,
    });
    // 0.5: the tool turns twice as fast, and the bearings bind.
    expect(speedRange({ name: 'fast', ratio: 0.5 }, [cooling], [bearings, drive])).toMatchObject({
      lowest: 1800,
      highest: 9000,
      highestBy: ['bearings'],
    });
    const tie = speedRange({ name: 'even', ratio: 2 / 3 }, [], [bearings, drive]);
    expect(tie).toMatchObject({ lowest: 0, lowestBy: ['standstill'], highestBy: ['bearings', 'drive'] });
  });

  it('may be empty', () => {
    const wanted = { name: 'torque', speed: 5000, at: 'tool', isSetting: false } as const;
    expect(speedRange({ name: 'slow', ratio: 1.5 }, [wanted], [drive]).isEmpty).toBe(true);
  });
});

describe('a tachometer', () => {
  it('finds scale, offset and bow, and corrects only what stands clear', () => {
    const points = [500, 1000, 1500, 2000, 2500].map((commanded) => ({ commanded, measured: 0.98 * commanded + 6 }));
    const exactly = valueOf(tachometer(points));
    expect(exactly).toMatchObject({
      scale: expect.closeTo(0.98, 12),
      offset: expect.closeTo(6, 9),
      isWorthCorrecting: true,
    });
    expect(exactly?.linearity).toBeLessThan(1e-12);
    // 50 Hz at full signal that give 2 % too little want 51.02 Hz.
    expect(exactly && corrected(50, exactly)).toBeCloseTo(50 / 0.98, 9);
    const noisy = points.map(({ commanded }, k) => ({ commanded, measured: commanded + (k % 2 === 0 ? 12 : -12) }));
    expect(valueOf(tachometer(noisy))?.isWorthCorrecting).toBe(false);
    const bowed = points.map((point) => ({
      ...point,
      measured: point.measured + ((point.commanded - 1500) / 1000) ** 2 * 25,
    }));
    expect(valueOf(tachometer(bowed))?.linearity).toBeGreaterThan(0.004);
    expect(tachometer([{ commanded: 1, measured: 1 }])).toMatchObject({ state: 'unknown' });
  });
});
