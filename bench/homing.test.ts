import {
  homingMethodFacts,
  homingMethods,
  predictHoming,
  type HomingDefinition,
  type HomingMethod,
  type HomingWorld,
} from '@kavrid/core/homing';
import { afterAll, describe, expect, it } from 'vitest';
import {
  carriageWorld,
  liftWorld,
  makeHost,
  makeServo,
  makeStepper,
  secondPlant,
  tileStopWorld,
  type AxisWorld,
  type MakePlant,
} from './index.ts';
import { isProof, proofSeed, recordProof } from './test/proof.ts';
import { seeded } from './test/seeded.ts';

/** Numbers by which the bench's servo knows the methods without one. */
const own: Readonly<Partial<Record<HomingMethod, number>>> = {
  minusStop: -1,
  plusStop: -2,
  minusStopIndex: -3,
  plusStopIndex: -4,
};

/** A servo homes by itself. @returns where it latched, and where it stands, in counts of the world */
function homedServo(world: AxisWorld, values: Readonly<Record<string, number>>, makePlant?: MakePlant) {
  const { device } = makeServo(world, {}, makePlant);
  for (const [key, value] of Object.entries({ commandSource: 1, followingErrorWindow: 2e9, ...values }))
    device.parameters.write(key, Math.round(value));
  device.parametersChanged();
  const cells = device.cells();
  for (const word of [6, 7, 15]) device.control(word);
  cells.modeOfOperation?.write?.(6);
  device.control(0x1f);
  let seconds = 0;
  let hardest = 0;
  while (seconds < 60 && !device.homed && device.error === 0) {
    cells.heartbeat?.write?.(1);
    device.advance(0.004);
    seconds += 0.004;
    hardest = Math.max(hardest, Math.abs(device.mechanics.torque) / 1000);
  }
  const settled = seconds;
  for (let rest = 0; rest < 0.4; rest += 0.02) {
    cells.heartbeat?.write?.(1);
    device.advance(0.02);
  }
  const { mechanics } = device;
  return {
    device,
    seconds: settled,
    hardest,
    stands: mechanics.loadCounts,
    reads: mechanics.positionCounts,
    latched: mechanics.loadCounts - mechanics.positionCounts - (values.homeOffset ?? 0),
  };
}

describe('a servo of the bench', () => {
  const stopMillimetre = 2 ** 17 / 5;
  const speeds = { homingSearchSpeed: 10, homingCreepSpeed: 2, homingAcceleration: 200 } as const;
  const counts = Object.fromEntries(Object.entries(speeds).map(([key, value]) => [key, value * stopMillimetre]));

  it.each([
    ['plusStop', 99.5],
    // The first pulse on the way down: 30000 counts and whole turns of 5 mm.
    ['plusStopIndex', 30000 / stopMillimetre + 95],
  ] as const)('homes by %s at %d mm with little torque, and has all of it afterwards', (method, at) => {
    const got = homedServo(
      { ...tileStopWorld, startCounts: 90 * stopMillimetre, minusStop: -3 * stopMillimetre },
      {
        ...counts,
        homingMethod: own[method] ?? 0,
        // Tenths of a per cent.
        homingTorqueLimit: 300,
        torqueLimit: 2000,
        homeOffset: -99.5 * stopMillimetre,
      },
    );
    expect(got.device.homed).toBe(true);
    expect(got.latched / stopMillimetre).toBeCloseTo(at, 1);
    // It pushed with its 30 % and not more.
    expect(got.hardest).toBeGreaterThan(0.27);
    expect(got.hardest).toBeLessThan(0.33);
    expect(got.device.parameters.value('torqueLimit')).toBe(200);
    got.device.mechanics.limitMove(Infinity);
    expect(got.device.error).toBe(0);
  });

  /** A short travel, so that many homings pass in little time; a turn of the motor is 10 mm. */
  const perMillimetre = 2 ** 20 / 10;
  it.each([
    // Found by the proof: the demand has stopped on the flag, and the axis, which is behind it, runs off again.
    [9, 74.9365, 2.4731, 629.16, 22.0326, 28.0626, 34.97379, 8.907794],
    [10, 79.6099, 7.1403, 648.955, 18.5392, 25.1524, 29.963967, 0.288492],
    [25, 76.5625, 6.1741, 685.302, 20.9921, 27.0045, 38.855345, 2.769714],
  ] as const)(
    'by method %i waits until the axis itself stands, where it lags over the end of its flag',
    (method, searchSpeed, creepSpeed, acceleration, from, to, start, indexAt) => {
      const definition: HomingDefinition = { method, searchSpeed, creepSpeed, acceleration, positionAtHome: 0 };
      const world: HomingWorld = {
        ...{
          start,
          minusEdge: 0,
          plusEdge: 50,
          homeSwitch: { from, to },
          indexSpacing: 10,
          indexAt,
          scanPeriod: 0.001,
        },
      };
      const at = (place: number) => place * perMillimetre;
      const got = homedServo(
        {
          ...{ ...carriageWorld, minusLimit: 0, plusLimit: at(50), minusStop: at(-20), plusStop: at(70) },
          ...{
            homeSwitch: { from: at(from), to: at(to) },
            indexOffset: at(indexAt),
            startCounts: Math.round(at(start)),
          },
        },
        {
          ...{ homingMethod: method, homingSearchSpeed: at(searchSpeed), homingCreepSpeed: at(creepSpeed) },
          ...{ homingAcceleration: at(acceleration), inertiaRatio: 1640, gearNumerator: 1, gearDenominator: 1 },
        },
      );
      expect(got.device.homed).toBe(true);
      expect(Math.abs(got.latched / perMillimetre - predictHoming(definition, world).home)).toBeLessThan(0.03);
    },
  );
  const random = seeded(proofSeed);
  const worlds = isProof ? 2000 : 2;
  const counted = { worlds: 0, 'index pulse at the very edge, either turn': 0 };
  afterAll(() =>
    recordProof('homings by every switch method against the prediction', { methods: methods.length, ...counted }),
  );
  const methods = homingMethods.filter((method) => homingMethodFacts(method).kind === 'edge');

  it.each(methods)(
    'homes by method %s where the prediction says, in random worlds, on both plants',
    { timeout: 3_600_000 },
    (method) => {
      const facts = homingMethodFacts(method);
      if (facts.kind !== 'edge') return;
      for (let k = 0; k < worlds; k++) {
        const definition: HomingDefinition = {
          method,
          searchSpeed: 20 + 60 * random(),
          creepSpeed: 2 + 6 * random(),
          acceleration: 600 + 1400 * random(),
          positionAtHome: 0,
        };
        const from = 18 + 6 * random();
        const range = facts.input === 'homeSwitch' ? facts.range : 'flag';
        const homeSwitch =
          range === 'flag'
            ? { from, to: from + 6 + 4 * random() }
            : range === 'to the plus end'
              ? { from, to: Infinity }
              : { from: -Infinity, to: from };
        const world: HomingWorld = {
          start: -0.5 + 51 * random(),
          minusEdge: 0,
          plusEdge: 50,
          homeSwitch,
          indexSpacing: 10,
          indexAt: 10 * random(),
          scanPeriod: 0.001,
        };
        const scaled = (place: number) => place * perMillimetre;
        const got = homedServo(
          {
            ...carriageWorld,
            coulombFriction: 0.2 + 0.6 * random(),
            minusLimit: 0,
            plusLimit: scaled(50),
            minusStop: scaled(-20),
            plusStop: scaled(70),
            homeSwitch: { from: scaled(homeSwitch.from), to: scaled(homeSwitch.to) },
            indexOffset: Math.round(scaled(world.indexAt)),
            startCounts: Math.round(scaled(world.start)),
          },
          {
            homingMethod: typeof method === 'number' ? method : 0,
            homingSearchSpeed: scaled(definition.searchSpeed),
            homingCreepSpeed: scaled(definition.creepSpeed),
            homingAcceleration: scaled(definition.acceleration),
            inertiaRatio: 1640,
            // No gear: an increment is a count.
            gearNumerator: 1,
            gearDenominator: 1,
          },
          k % 2 === 1 ? secondPlant : undefined,
        );
        const predicted = [0, world.scanPeriod].map((cross) =>
          predictHoming(definition, world, { search: cross, cross }),
        );
        const [soon, late] = predicted.map(({ home }) => home);
        const latched = got.latched / perMillimetre;
        const where = `${method} from ${world.start}, pulse at ${world.indexAt}`;
        expect(got.device.homed, where).toBe(true);
        // One look at creep speed; the load is twisted against its motor by up to a tenth on the second plant.
        const slack = definition.creepSpeed * world.scanPeriod + (k % 2 === 1 ? 0.1 : 0.02);
        const isJump = facts.usesIndex && Math.abs(latched - (soon ?? 0)) > 5;
        // A pulse as near to the edge as that is a gamble in both.
        const gamble = predicted.some(
          ({ indexMargin = 5 }) => Math.min(indexMargin, world.indexSpacing - indexMargin) < slack,
        );
        counted.worlds++;
        if (isJump && gamble) counted['index pulse at the very edge, either turn']++;
        else {
          expect(latched, where).toBeGreaterThan(Math.min(soon ?? 0, late ?? 0) - slack);
          expect(latched, where).toBeLessThan(Math.max(soon ?? 0, late ?? 0) + slack);
        }
      }
    },
  );
});

describe('a controller that homes a closed-loop stepper', () => {
  const perMillimetre = 400;
  /** A turn is 10 mm, and its index pulse comes at each; the flag goes from 203 to 215 mm, the travel from 2 to 298. */
  const world = {
    ...liftWorld,
    minusLimit: 2 * perMillimetre,
    plusLimit: 298 * perMillimetre,
    homeSwitch: { from: 203 * perMillimetre, to: 215 * perMillimetre },
  };
  const edges: readonly (readonly [method: number, home: number])[] = [
    [1, 10],
    [2, 290],
    // Outside the minus edge, inside it, inside the plus edge, outside it.
    ...[7, 14].map((method) => [method, 200] as const),
    ...[8, 13].map((method) => [method, 210] as const),
    ...[9, 12].map((method) => [method, 210] as const),
    ...[10, 11].map((method) => [method, 220] as const),
    [17, 2],
    [18, 298],
    ...[23, 24, 29, 30].map((method) => [method, 203] as const),
    ...[25, 26, 27, 28].map((method) => [method, 215] as const),
  ];

  /** @returns how far the lift is from where its controller believes it to be, mm */
  function homedOff(method: number, home: number, start: number): number {
    const { device: stepper } = makeStepper({ ...world, startCounts: start * perMillimetre });
    const { device: host } = makeHost(stepper);
    for (const [key, value] of [
      // Thousandths; the factory switches of the drive count 400 pulses a turn of 10 mm.
      ['stepsPerUnit', stepper.pulsesPerRevolution * 100],
      ['homingMethod', method],
      ['homingSearchSpeed', 20_000],
      ['homingCreepSpeed', 2_000],
      ['homingAcceleration', 200_000],
      ['positionAtHome', home * 1000],
    ] as const)
      host.parameters.write(key, value);
    const pass = (seconds: number) => {
      for (let t = 0; t < seconds - 1e-9; t += 0.004) for (const device of [host, stepper]) device.advance(0.004);
    };
    stepper.terminals.outputs.set('controller: servo on', true);
    pass(0.1);
    expect(host.home()).toBe(true);
    for (let waited = 0; host.isRunning && waited < 60; waited += 0.5) pass(0.5);
    expect(host.isHomed, `from ${start}`).toBe(true);
    pass(0.3);
    return Math.abs(
      stepper.mechanics.positionCounts / perMillimetre - host.position / (stepper.pulsesPerRevolution / 10),
    );
  }
  /** mm: a step of the drive, a look at creep speed, and the lag of the motor. */
  const slack = 0.06;

  it.each(edges)('by method %i comes to %d mm from below, on and above the home switch', (method, home) => {
    for (const start of [122, 208, 262]) expect(homedOff(method, home, start), `from ${start}`).toBeLessThan(slack);
  });

  it.each([
    [33, 120],
    [34, 130],
  ])('by method %i comes to the index pulse at %d mm', (method, home) => {
    expect(homedOff(method, home, 124)).toBeLessThan(slack);
  });

  it('gives up a search that goes too far or takes too long, and stands still', () => {
    const { device: stepper } = makeStepper({ ...liftWorld, homeSwitch: { from: 1e9, to: 1e9 + 1 } });
    const { device: host } = makeHost(stepper);
    for (const [key, value] of [
      ['stepsPerUnit', stepper.pulsesPerRevolution * 100],
      ['homingMethod', 23],
      ['homingMostTravel', 30_000],
    ] as const)
      host.parameters.write(key, value);
    stepper.terminals.outputs.set('controller: servo on', true);
    const pass = (seconds: number) => {
      for (let t = 0; t < seconds - 1e-9; t += 0.004) for (const device of [host, stepper]) device.advance(0.004);
    };
    pass(0.1);
    host.home();
    pass(3);
    expect([host.isRunning, host.isHomed]).toEqual([false, false]);
    expect(stepper.mechanics.positionCounts / perMillimetre).toBeLessThan(120 + 32);
    expect(stepper.mechanics.speed).toBeCloseTo(0, 3);
  });
});
