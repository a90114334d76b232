import type { Channel } from './traceHeader.ts';

/** What turns a raw number of an axis' drive into axis units. */
export interface RawScale {
  /** Axis units a count, signed by the mechanics. */
  readonly unitsPerCount: number;
  readonly sign: 1 | -1;
}

/** A channel that a device records. In units, `{u}` stands for the axis unit. */
export interface ChannelFacts {
  readonly label: string;
  readonly unit: string;
  /** value = raw · scale */
  readonly scale: (axis: RawScale) => number;
}

/** Channels of a servo drive, in the order of its trace memory; a row is all that a channel is. */
export const axisChannels = {
  demandPosition: { label: 'Demand position', unit: '{u}', scale: ({ unitsPerCount }) => unitsPerCount },
  actualPosition: { label: 'Actual position', unit: '{u}', scale: ({ unitsPerCount }) => unitsPerCount },
  demandSpeed: { label: 'Demand speed', unit: '{u}/s', scale: ({ unitsPerCount }) => unitsPerCount },
  actualSpeed: { label: 'Actual speed', unit: '{u}/s', scale: ({ unitsPerCount }) => unitsPerCount },
  followingError: { label: 'Following error', unit: '{u}', scale: ({ unitsPerCount }) => unitsPerCount },
  torque: { label: 'Torque', unit: '%', scale: ({ sign }) => 0.1 * sign },
  inputs: { label: 'Inputs', unit: '', scale: () => 1 },
  statusword: { label: 'Statusword', unit: '', scale: () => 1 },
} as const satisfies Record<string, ChannelFacts>;
export type AxisChannel = keyof typeof axisChannels;

/** The pattern at the inputs that pick moves, the first input as the lowest bit: made of the inputs recorded, where the drive says which they are. */
export const choicePattern: Channel = {
  id: 'choicePattern',
  label: 'Pattern of the choice inputs',
  unit: '',
  scale: 1,
  format: 'int32',
};

/** Channels of a spindle drive: the scales are those of its trace memory. */
export const spindleChannels = {
  hertz: { label: 'Output frequency', unit: 'Hz', scale: () => 0.01 },
  speed: { label: 'Motor speed', unit: 'rpm', scale: () => 0.1 },
  current: { label: 'Motor current', unit: 'A', scale: () => 0.01 },
  torque: { label: 'Motor torque', unit: 'N·m', scale: () => 0.01 },
  busVolts: { label: 'DC bus', unit: 'V', scale: () => 0.1 },
} as const satisfies Record<string, ChannelFacts>;
export type SpindleChannel = keyof typeof spindleChannels;

export const channelsOf: Readonly<Record<'axis' | 'spindle', Readonly<Record<string, ChannelFacts>>>> = {
  axis: axisChannels,
  spindle: spindleChannels,
};
