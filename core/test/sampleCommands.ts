import type { AxisInput, HostLoopInput, ScaledCommand } from '../chain/index.ts';
import { planMove } from '../motion/index.ts';
import { exact } from '../quantity/index.ts';
import { known, unknown } from '../sheet/index.ts';
import { dutyRange, rangeOf, type ChoiceInputs } from '../signal/index.ts';
import { carriage } from './sampleAxis.ts';

/** ±10 V means ±3000 rpm; 12 bits at the controller, 14 in the drive; nothing stands at enable. */
export const analogSpeed: ScaledCommand = {
  kind: 'analog',
  meaning: 'speed',
  range: rangeOf('±10 V', 10),
  fromSignal: known(exact(0)),
  fromValue: known(exact(0)),
  toSignal: known(exact(10)),
  toValue: known(exact(3000)),
  controllerSteps: known(4096),
  driveSteps: known(16384),
  deadband: 0,
  filter: 0,
  faultDetected: false,
  switchedOn: true,
  standing: known(exact(0)),
  creep: unknown('the creep is not filled in'),
  trimStep: unknown('the trim is not filled in'),
  potentiometer: undefined,
  pulses: undefined,
  hostLoop: undefined,
};

/** Closed in the controller: 30/s every millisecond, 2500 pulses a turn fed back, 8° of error allowed. */
export const hostLoop: HostLoopInput = {
  integralGain: 0,
  velocityFeedforward: 0,
  gain: known(30),
  period: known(0.001),
  outputPulses: known(exact(2048)),
  outputRate: known(1600000),
  inputRate: known(4000000),
  feedbackInverted: false,
  errorLimit: known(8),
  reactionTime: known(0.02),
  deceleration: known(1500),
};

/** A carrier of 490 Hz, captured in ten bits. */
export const dutyPulses: NonNullable<ScaledCommand['pulses']> = {
  carrier: known(490),
  rawFullScale: known(exact(1023)),
  numeratorMax: known(exact(32767)),
  denominatorMax: known(exact(32767)),
  directions: 'one',
  sharedWith: '',
};

/** 5 to 95 % duty mean 0 to 3000 rpm one way; 10 bits at both ends. */
export const dutySpeed: ScaledCommand = {
  ...analogSpeed,
  kind: 'pwm',
  range: dutyRange,
  fromSignal: known(exact(5)),
  toSignal: known(exact(95)),
  controllerSteps: known(1024),
  driveSteps: known(1023),
  standing: known(exact(5)),
  faultDetected: true,
  pulses: dutyPulses,
};

const move = {
  kind: 'position',
  fence: undefined,
  speed: 100,
  acceleration: 1000,
  deceleration: 1000,
  torqueLimit: 60,
  window: 0.1,
  scale: undefined,
  armingInput: '',
} as const;

/** Two inputs pick three positions; an edge of a third one starts the move. */
export const threePlaces: ChoiceInputs = {
  inputs: ['A', 'B'],
  moves: [
    { ...move, pattern: '10', name: 'near', target: 10 },
    { ...move, pattern: '01', name: 'middle', target: 500 },
    { ...move, pattern: '11', name: 'far', target: 1000 },
  ],
  edges: [{ input: 'S', edge: 'rising', action: 'start the picked move' }],
  torqueLimits: [],
  minimumInputDuration: 0,
  startDelay: 0,
  nothing: 'the move goes on',
  skew: 0.004,
  homing: 'if not homed',
  patternAtEnable: '00',
};

/** A turntable: 20-bit encoder, worm 72 to 1, endless, in degrees. */
export const turntable: AxisInput = {
  ...carriage,
  motionKind: 'rotary',
  axisUnit: 'deg',
  endless: true,
  travel: known(exact(360)),
  stages: [
    {
      kind: 'worm',
      backDriveEfficiency: undefined,
      wheelTeeth: known(exact(72)),
      starts: known(exact(1)),
      reverses: false,
      efficiency: known(0.6),
      inertia: known(0),
      backlash: known(0),
      speedLimit: undefined,
    },
  ],
  command: { ...analogSpeed, hostLoop },
  wantedResolution: known(exact(1, 100)),
  wantedSpeed: known(90),
  testMove: known(planMove(180, { speed: 80, acceleration: 300 })),
  movedMass: known(0),
  loadInertia: known(1),
  frictionLoad: known(2),
};

export const withCommand = (command: AxisInput['command'], axis: AxisInput = carriage): AxisInput => ({
  ...axis,
  command,
});
