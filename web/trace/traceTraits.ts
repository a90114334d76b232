import { byKind, channelsOf, type ChannelFacts, type MemberDocument, type MemberKind } from '@kavrid/contract';

/** What the page of traces has for a kind of member. */
export interface TraceTraits {
  readonly channels: Readonly<Record<string, ChannelFacts>>;
  /** Drawn unless others are chosen. */
  readonly usual: readonly string[];
  /** Channels of a prediction. */
  readonly predicted: readonly string[];
  /** What is predicted where no run is chosen. */
  readonly prediction: string;
  /** Channels that have a meaning outside their drive, and words in a title by which they are recognised, the first that fits. */
  readonly titleWords: readonly (readonly [RegExp, string])[];
  readonly hasPosition: boolean;
  readonly firstSpectrum: string;
}

const axisMoves = ['actualPosition', 'actualSpeed', 'followingError', 'torque'];
const runTest = ['hertz', 'speed', 'current', 'torque', 'busVolts'];

export const traceTraits: Readonly<Record<MemberKind, TraceTraits>> = {
  axis: {
    channels: channelsOf.axis,
    usual: axisMoves,
    predicted: ['demandPosition', ...axisMoves],
    prediction: 'prediction of the test move as typed',
    titleWords: [
      [/err|lag|follow|deviation/i, 'followingError'],
      [/torque|current/i, 'torque'],
      [/(dem|comm?and|set|target|ref).*(pos)|pos.*(dem|cmd|command|set|target|ref)/i, 'demandPosition'],
      [/pos/i, 'actualPosition'],
      [/(dem|comm?and|set|target|ref).*(speed|vel)|(speed|vel).*(dem|cmd|command|set|target|ref)/i, 'demandSpeed'],
      [/speed|vel/i, 'actualSpeed'],
    ],
    hasPosition: true,
    firstSpectrum: 'followingError',
  },
  spindle: {
    channels: channelsOf.spindle,
    usual: runTest,
    predicted: runTest,
    prediction: 'prediction of the run test as typed',
    titleWords: [
      [/freq|hertz|\bhz\b/i, 'hertz'],
      [/current|amp/i, 'current'],
      [/torque/i, 'torque'],
      [/bus|volt/i, 'busVolts'],
      [/speed|rpm/i, 'speed'],
    ],
    hasPosition: false,
    firstSpectrum: 'current',
  },
};

/** A channel whose mean load is set against what the motor may take for long, and against a limit. */
export interface Reserve {
  readonly channel: string;
  readonly label: string;
  readonly unit: string;
  readonly rated: number;
  /** With its name. */
  readonly limit: { readonly name: string; readonly value: number } | undefined;
}

/** undefined: what the motor is rated for is not known */
export const reserveOf = (member: MemberDocument): Reserve | undefined =>
  byKind<Reserve | undefined>(member, {
    axis: ({ settings: { torqueLimit } }) => ({
      channel: 'torque',
      label: 'Torque reserve',
      unit: '%',
      rated: 100,
      limit: torqueLimit === null ? undefined : { name: 'torque limit', value: torqueLimit },
    }),
    spindle: ({ motor, settings }) => {
      const rated = settings.connection === 'star' ? motor.starAmps : motor.deltaAmps;
      return rated === null
        ? undefined
        : { channel: 'current', label: 'Current reserve', unit: 'A', rated, limit: undefined };
    },
  });
