import { moveFields, type AnalogScale, type MoveField, type PickedKind } from '../signal/index.ts';
import type { EndValue } from './endValue.ts';
import { plainValue as value } from './plainValue.ts';

/** What tells a drive its moves, as far as its list of values goes. */
export type ListKind = 'pulses' | 'analog' | 'pwm' | 'choice';

const pulseController = (axisUnit: string) => [
  value('Steps per unit', 'stepsPerUnit', `pulses/${axisUnit}`),
  value('Pulse form', 'pulseForm'),
  value('Pulses active', 'pulseActiveLevel'),
  value('Direction inverted', 'directionInverted'),
  value('Pulse width', 'pulseWidth', 'µs'),
  value('Direction set-up time', 'directionSetUp', 'µs'),
];

const scaledController = (axisUnit: string) => [
  value('Full command', 'commandFullSignal'),
  value('Speed at full command', 'commandFullSpeed', `${axisUnit}/s`),
  value('Command inverted', 'directionInverted'),
  value('Offset of the command', 'commandOffset'),
  value('Carrier frequency', 'carrierFrequency', 'Hz'),
  value('Feedback counts per unit', 'feedbackCountsPerUnit', `counts/${axisUnit}`),
  value('Position loop gain', 'loopGain', '1/s'),
  value('Integral gain of the position loop', 'loopIntegralGain', '1/s²'),
  value('Velocity feedforward of the position loop', 'loopVelocityFeedforward', '%'),
  value('Error limit', 'errorLimit', axisUnit),
];

const trainValues = [
  value('Pulses of a train', 'trainPulses', 'pulses'),
  value('Pulse rate of a train', 'trainRate', 'pulses/s'),
  value('Repeat period of the train', 'trainPeriod', 's'),
];

const scaledDrive = [
  value('Range of the input', 'analogRange'),
  value('Value at full signal', 'signalFullValue'),
  value('Value per unit of signal', 'signalGain'),
  value('Offset of the signal', 'signalOffset'),
  value('Signal inverted', 'signalInverted'),
  value('Deadband', 'signalDeadband'),
  value('Filter', 'signalFilter', 'ms'),
  value('Trip on signal loss', 'signalLossTrips'),
  value('Raw full scale', 'rawFullScale'),
  value('Scale numerator', 'rawNumerator'),
  value('Scale denominator', 'rawDenominator'),
  value('Scale offset', 'rawOffset'),
  value('Encoder output', 'encoderOutputPulses', 'pulses'),
];

/** What the two ends have of each kind of command. */
const ends: Readonly<
  Record<
    ListKind,
    { readonly controller: (axisUnit: string) => readonly EndValue[]; readonly drive: readonly EndValue[] }
  >
> = {
  pulses: {
    controller: (axisUnit) => [...pulseController(axisUnit), ...trainValues],
    drive: [
      value('Pulse form', 'pulseForm'),
      value('Pulses active', 'pulseActiveLevel'),
      value('Gear numerator', 'gearNumerator'),
      value('Gear denominator', 'gearDenominator'),
      value('Pulses per revolution', 'pulsesPerRevolution', 'pulses'),
      value('Gear multiplier', 'gearMultiplier'),
    ],
  },
  analog: { controller: scaledController, drive: scaledDrive },
  pwm: { controller: scaledController, drive: scaledDrive },
  choice: {
    controller: () => [value('Output skew', 'outputSkew', 'ms')],
    drive: [
      value('Minimum input duration', 'minimumInputDuration', 'ms'),
      value('Start delay', 'startDelay', 'ms'),
      value('Homing', 'homingAtEnable'),
    ],
  },
};

const brakeValues = [
  value('Brake release delay', 'brakeReleaseDelay', 'ms'),
  value('Brake engage delay', 'brakeEngageDelay', 'ms'),
];

/** Values that every controller has in some form; used where the library has no list for the controller. */
export const genericControllerValues = (axisUnit: string, kind: ListKind): readonly EndValue[] => [
  ...ends[kind].controller(axisUnit),
  value('Highest speed', 'highestSpeed', `${axisUnit}/s`),
  value('Acceleration', 'acceleration', `${axisUnit}/s²`),
  value('Enable output active', 'enableActiveLevel'),
  value('Alarm input', 'alarmContact'),
  value('Limit inputs', 'limitContact'),
  value('Backlash', 'backlash', axisUnit),
  value('Minus soft limit', 'minusSoftLimit', axisUnit),
  value('Plus soft limit', 'plusSoftLimit', axisUnit),
  value('Homing search speed', 'homingSearchSpeed', `${axisUnit}/s`),
  value('Homing creep speed', 'homingCreepSpeed', `${axisUnit}/s`),
  value('Homing time-out', 'homingTimeOut', 's'),
  ...brakeValues,
];

/** The same for a drive. */
export const genericDriveValues = (axisUnit: string, kind: ListKind): readonly EndValue[] => [
  value('Command source', 'commandSource'),
  ...ends[kind].drive,
  value('Positive direction, viewed from the shaft end', 'rotationSense'),
  value('Enable input active', 'enableActiveLevel'),
  value('Limit inputs active', 'limitActiveLevel'),
  value('Alarm output', 'alarmContact'),
  value('Inertia ratio', 'inertiaRatio'),
  value('Position loop gain', 'positionGain', '1/s'),
  value('Speed loop bandwidth', 'speedBandwidth', 'rad/s'),
  value('Speed loop integral time', 'speedIntegralTime', 'ms'),
  value('Velocity feedforward', 'velocityFeedforward', '%'),
  value('Acceleration feedforward', 'accelerationFeedforward', '%'),
  value('Filter of the torque command', 'torqueFilter', 'ms'),
  value('Notch frequency', 'notchFrequency', 'Hz'),
  value('Notch width', 'notchWidth', '%'),
  value('Notch depth', 'notchDepth', 'dB'),
  value('Set-point wait, speed gap', 'waitSpeedGap', `${axisUnit}/s`),
  value('Set-point wait, position gap', 'waitPositionGap', axisUnit),
  value('Torque limit', 'torqueLimit', '%'),
  value('Following-error window', 'followingErrorWindow', axisUnit),
  value('Minus soft limit', 'minusSoftLimit', axisUnit),
  value('Plus soft limit', 'plusSoftLimit', axisUnit),
  value('Homing method', 'homingMethod'),
  value('Homing search speed', 'homingSearchSpeed', `${axisUnit}/s`),
  value('Homing creep speed', 'homingCreepSpeed', `${axisUnit}/s`),
  value('Homing acceleration', 'homingAcceleration', `${axisUnit}/s²`),
  value('Home offset', 'homeOffset', axisUnit),
  ...brakeValues,
];

/** What a stored move is keyed in as; its role in the plan says which field of which pattern. */
export type MovedField = 'kind' | MoveField | keyof AnalogScale | 'armingInput';

/** What is keyed in of a kind of move, in the order of the sheet. */
export const movedFields = (kind: PickedKind): readonly MovedField[] => [
  'kind',
  ...moveFields[kind],
  ...(kind === 'follow analog' ? (['signalFrom', 'valueFrom', 'signalTo', 'valueTo', 'armingInput'] as const) : []),
];

export const moveRole = (pattern: string, field: MovedField | 'limit'): string => `move ${pattern} ${field}`;

const movedWords: Readonly<Record<MovedField, string>> = {
  kind: 'what it does',
  target: 'target',
  fence: 'near fence',
  speed: 'speed',
  acceleration: 'acceleration',
  deceleration: 'deceleration',
  torqueLimit: 'torque limit',
  window: 'in-position window',
  signalFrom: 'signal at point A',
  valueFrom: 'position at point A',
  signalTo: 'signal at point B',
  valueTo: 'position at point B',
  armingInput: 'arming input',
};

/** The unit of each, for an axis in a unit and the signal that moves follow in another. */
export const movedUnits = (axisUnit: string, signalUnit: 'V' | 'mA'): Readonly<Record<MovedField, string>> => ({
  kind: '',
  target: axisUnit,
  fence: axisUnit,
  speed: `${axisUnit}/s`,
  acceleration: `${axisUnit}/s²`,
  deceleration: `${axisUnit}/s²`,
  torqueLimit: '%',
  window: axisUnit,
  signalFrom: signalUnit,
  valueFrom: axisUnit,
  signalTo: signalUnit,
  valueTo: axisUnit,
  armingInput: '',
});

/** Values of stored moves and switched torque limits, for any drive. */
export const storedMoveValues = (
  units: Readonly<Record<MovedField, string>>,
  moves: readonly { readonly pattern: string; readonly kind: PickedKind }[],
  torquePatterns: readonly string[],
): readonly EndValue[] => [
  ...moves.flatMap(({ pattern, kind }) =>
    movedFields(kind).map((field) =>
      value(
        `Move ${pattern}: ${field === 'target' && kind === 'distance' ? 'distance' : movedWords[field]}`,
        moveRole(pattern, field),
        units[field],
      ),
    ),
  ),
  ...torquePatterns.map((pattern) => value(`Torque limit ${pattern}`, moveRole(pattern, 'limit'), '%')),
];
