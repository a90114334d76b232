import type { AxisDocument, StageDocument } from './documents.ts';

const common = { reverses: false, efficiency: 0.9, inertia: 0 } as const;

/** A stage of a kind, with its fields empty where only the plate can tell. */
export function newStage(kind: StageDocument['kind']): StageDocument {
  switch (kind) {
    case 'direct':
      return { kind, ...common, efficiency: 1 };
    case 'gearbox':
      return { kind, ratio: '', ...common };
    case 'beltDrive':
      return { kind, teeth: '', pitch: '', ...common };
    case 'screw':
      return { kind, lead: '', starts: '1', ...common };
    case 'beltReduction':
      return { kind, drivingTeeth: '', drivenTeeth: '', ...common, efficiency: 0.97 };
    case 'rack':
      return { kind, teeth: '', module: '', helixAngle: '0 deg', ...common };
    case 'roller':
      return { kind, diameter: '', ...common };
    case 'wireDrum':
      return { kind, drumDiameter: '', wireDiameter: '', ...common };
    case 'worm':
      return { kind, starts: '1', wheelTeeth: '', ...common, efficiency: 0.6 };
  }
}

/** A new axis: what has a sensible start is filled in, the rest waits for the plates. */
export function newAxis(name: string, kind: 'linear' | 'rotary' | 'dosing'): AxisDocument {
  const motion: AxisDocument['motion'] =
    kind === 'linear'
      ? { kind, travel: '' }
      : kind === 'rotary'
        ? { kind, unit: 'deg', endless: false, travel: '360 deg' }
        : { kind, outputPerTurn: '', travel: '' };
  return {
    name,
    notes: '',
    motion,
    plusEnd: '',
    motor: {
      name: 'Motor',
      ratedPower: null,
      ratedTorque: null,
      peakTorque: null,
      ratedSpeed: null,
      topSpeed: null,
      rotorInertia: null,
      encoder: { kind: 'bits', bits: '' },
      entry: null,
    },
    drive: {
      name: 'Drive',
      numeratorMax: '2147483647',
      denominatorMax: '2147483647',
      ratioMin: '1/1000',
      ratioMax: '64000',
      differentialRate: 4000000,
      singleEndedRate: 200000,
      counterBits: 32,
      entry: null,
    },
    controller: { name: 'Controller', maximumPulseRate: null, entry: null },
    command: { kind: 'stepDirection', electrical: 'differential', inverted: false },
    gear: { numerator: '1', denominator: '1' },
    stages: [newStage(kind === 'linear' ? 'screw' : kind === 'rotary' ? 'worm' : 'direct')],
    load: { mass: null, inertia: null, friction: 0, incline: 0 },
    wanted: { resolution: '', speed: null },
    settings: {
      rotationSense: 'counterClockwise',
      enableActiveLevel: 'high',
      limitActiveLevel: 'low',
      inertiaRatio: 1,
      positionGain: 40,
      speedBandwidth: 250,
      speedIntegralTime: 20,
      velocityFeedforward: 0,
      torqueLimit: 300,
      followingErrorWindow: null,
      minusSoftLimit: null,
      plusSoftLimit: null,
    },
    homing: { method: 17, searchSpeed: null, creepSpeed: null, acceleration: null, homeOffset: 0 },
    testMove: { from: null, distance: null, speed: null, acceleration: null, jerk: null, dwell: 0.3, repeats: 2 },
    jogSpeed: null,
    link: { host: '127.0.0.1', port: 502, unit: 1, profileId: null },
  };
}
