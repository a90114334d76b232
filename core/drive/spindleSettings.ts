import type { EndValue } from './endValue.ts';
import { plainValue as value } from './plainValue.ts';

const fixedSpeedRoles = Array.from({ length: 15 }, (_, k) => `fixedSpeed${k + 1}` as const);

/** What a setting of a spindle drive means. */
export const spindleDriveRoles = [
  'motorPower',
  'motorHertz',
  'motorVolts',
  'motorSpeed',
  'motorPoles',
  'protectionCurrent',
  'baseHertz',
  'baseVolts',
  'boost',
  'point1Hertz',
  'point1Volts',
  'point2Hertz',
  'point2Volts',
  'point3Hertz',
  'point3Volts',
  'highestHertz',
  'lowestHertz',
  'rampUp',
  'rampDown',
  'stopWay',
  'runSource',
  'speedSource',
  'signalRange',
  'signalLow',
  'signalLowHertz',
  'signalHigh',
  'signalHighHertz',
  ...fixedSpeedRoles,
  'busAddress',
  'busBaud',
  'busParity',
  'busStopBits',
  'busTimeOut',
  'lostLink',
  'speedWordUnit',
  'brakeResistor',
] as const;
export type SpindleDriveRole = (typeof spindleDriveRoles)[number];

/** What a setting of a controller means for its spindle. */
export const spindleControllerRoles = [
  'spindleTopSpeed',
  'spindleLowestSpeed',
  'spindleRatio',
  'spindleRatioInverse',
  'spindleFullSpeed',
  'spindleStartDelay',
  'spindleStopDelay',
  'busBaud',
  'busParity',
  'busStopBits',
  'busAddress',
  'busPeriod',
] as const;
export type SpindleControllerRole = (typeof spindleControllerRoles)[number];

/** How a spindle is commanded, as far as lists of values go. */
export type SpindleListKind = 'signal' | 'fixedSpeeds' | 'fieldBus';

const busValues = [
  value('Baud', 'busBaud'),
  value('Parity', 'busParity'),
  value('Stop bits', 'busStopBits'),
  value('Drive address', 'busAddress'),
];

/** The signal in `signalUnit`; the pattern of each fixed speed, in order. */
export interface SpindleList {
  readonly kind: SpindleListKind;
  readonly signalUnit: string;
  readonly patterns: readonly string[];
}

/** What every drive for a spindle has in one form or another, in the order to key it. */
export const genericSpindleDriveValues = ({ kind, signalUnit, patterns }: SpindleList): readonly EndValue[] => [
  value('Motor: power', 'motorPower', 'kW'),
  value('Motor: rated frequency', 'motorHertz', 'Hz'),
  value('Motor: volts', 'motorVolts', 'V'),
  value('Motor: rated speed', 'motorSpeed', 'rpm'),
  value('Motor: poles', 'motorPoles'),
  value('Motor protection current', 'protectionCurrent', 'A'),
  value('Base frequency', 'baseHertz', 'Hz'),
  value('Base voltage', 'baseVolts', 'V'),
  value('Boost', 'boost', 'V'),
  ...[1, 2, 3].flatMap((k) => [
    value(`Point ${k} of the curve: frequency`, `point${k}Hertz`, 'Hz'),
    value(`Point ${k} of the curve: volts`, `point${k}Volts`, 'V'),
  ]),
  value('Highest frequency', 'highestHertz', 'Hz'),
  value('Lowest frequency', 'lowestHertz', 'Hz'),
  value('Ramp up, to the highest frequency', 'rampUp', 's'),
  value('Ramp down, from the highest frequency', 'rampDown', 's'),
  value('How it stops', 'stopWay'),
  value('Brake resistor', 'brakeResistor'),
  value('Run command source', 'runSource'),
  value('Speed command source', 'speedSource'),
  ...commandValues(kind, signalUnit, patterns),
];

function commandValues(kind: SpindleListKind, signalUnit: string, patterns: readonly string[]): readonly EndValue[] {
  switch (kind) {
    case 'signal':
      return [
        value('Signal range', 'signalRange'),
        value('Lower signal', 'signalLow', signalUnit),
        value('Frequency at the lower signal', 'signalLowHertz', 'Hz'),
        value('Upper signal', 'signalHigh', signalUnit),
        value('Frequency at the upper signal', 'signalHighHertz', 'Hz'),
      ].map((each, k) => ({
        ...each,
        code: k === 2 || k === 4 ? `${k === 2 ? 'Lower' : 'Upper'} signal means` : each.code,
      }));
    case 'fixedSpeeds':
      return patterns.map((pattern, k) => value(`Speed of inputs ${pattern}`, `fixedSpeed${k + 1}`, 'Hz'));
    case 'fieldBus':
      return [
        ...busValues,
        value('Unit of the speed command', 'speedWordUnit'),
        value('Communication timeout', 'busTimeOut', 's'),
        value('Without its link', 'lostLink'),
      ];
  }
}

/** The same for the controller. */
export const genericSpindleControllerValues = ({ kind, signalUnit }: SpindleList): readonly EndValue[] => [
  value('Highest spindle speed', 'spindleTopSpeed', 'rpm'),
  value('Lowest spindle speed', 'spindleLowestSpeed', 'rpm'),
  ...(kind === 'fixedSpeeds' ? [] : [value('Signal for one rpm', 'spindleRatio', `${signalUnit}/rpm`)]),
  ...(kind === 'signal' ? [value('Speed at full signal', 'spindleFullSpeed', 'rpm')] : []),
  value('Wait after the start', 'spindleStartDelay', 's'),
  value('Wait after the stop', 'spindleStopDelay', 's'),
  ...(kind === 'fieldBus' ? [...busValues, value('Poll period', 'busPeriod', 'ms')] : []),
];

/** What a message of a poll list is keyed in as. */
export const pollFields = ['function', 'register', 'registers'] as const;
export type PollField = (typeof pollFields)[number];
export const pollRole = (message: number, field: PollField): string => `poll ${message} ${field}`;

const pollWords: Readonly<Record<PollField, string>> = {
  function: 'function code',
  register: 'first register',
  registers: 'number of registers',
};

/** The poll list of a controller, a few lines a message. */
export const pollListValues = (names: readonly string[]): readonly EndValue[] =>
  names.flatMap((name, index) =>
    pollFields.map((field) => ({
      ...value(`${name}: ${pollWords[field]}`, pollRole(index + 1, field)),
      code: `${index + 1} ${field}`,
    })),
  );
