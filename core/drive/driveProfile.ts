import type { SpindleDriveRole } from './spindleSettings.ts';
import { rangeOf, wordsOf, type RegisterType, type WordOrder } from './registerCodec.ts';

/** When a written value takes effect. */
export type TakesEffect = 'at once' | 'after restart';

/** What a parameter means to Kavrid; a parameter without one is shown and written, but not computed. */
export const parameterRoles = [
  'gearNumerator',
  'gearDenominator',
  'inertiaRatio',
  'positionGain',
  'speedBandwidth',
  'speedIntegralTime',
  'velocityFeedforward',
  'torqueLimit',
  'followingErrorWindow',
  'minusSoftLimit',
  'plusSoftLimit',
  'homingMethod',
  'homingSearchSpeed',
  'homingCreepSpeed',
  'homingAcceleration',
  'homeOffset',
  'rotationSense',
  'commandSource',
  'enableActiveLevel',
  'limitActiveLevel',
  'watchdogTime',
  'pulsesPerRevolution',
  'gearMultiplier',
  'pulseForm',
  'pulseActiveLevel',
  'alarmContact',
  'analogRange',
  'signalFullValue',
  'signalGain',
  'signalOffset',
  'signalInverted',
  'signalDeadband',
  'signalFilter',
  'signalLossTrips',
  'rawFullScale',
  'rawNumerator',
  'rawDenominator',
  'rawOffset',
  'encoderOutputPulses',
  'inputTrigger',
  'inputTime',
  'homingAtEnable',
] as const;
export type ParameterRole = (typeof parameterRoles)[number];

/** One setting of a drive, as its register map describes it. */
export interface DriveParameter {
  readonly key: string;
  readonly label: string;
  readonly group: string;
  readonly role?: ParameterRole | SpindleDriveRole;
  /** CiA 402 object, where there is one: `0x6065`. */
  readonly object?: string;
  readonly type: RegisterType;
  /** Value in `unit` = raw × scale. */
  readonly scale: number;
  readonly unit: string;
  readonly minimum: number;
  readonly maximum: number;
  readonly factory: number;
  readonly takesEffect: TakesEffect;
  /** Zero-based address that is written, and that reads back what was written. */
  readonly address: number;
  /** Zero-based addresses of the copies: in effect now, kept through a restart, as delivered. */
  readonly running: number;
  readonly stored: number;
  readonly factoryAddress: number;
  /** What a choice means: raw value → words. */
  readonly choices: Readonly<Record<string, string>>;
  readonly help: string;
}

/** A register that is not a setting: commands, status, trace. */
export interface DriveRegister {
  readonly key: string;
  readonly object?: string;
  readonly type: RegisterType;
  readonly address: number;
  readonly scale: number;
  readonly unit: string;
}

/** A drive as its register map describes it. */
export interface DriveProfile {
  readonly name: string;
  readonly wordOrder: WordOrder;
  readonly parameters: readonly DriveParameter[];
  readonly registers: Readonly<Record<string, DriveRegister>>;
}

export const parameterOfRole = (
  profile: DriveProfile,
  role: ParameterRole | SpindleDriveRole,
): DriveParameter | undefined => profile.parameters.find((parameter) => parameter.role === role);

/** The raw register value of a value in the parameter's unit. @returns the reason when it cannot be keyed in. */
export function toRaw(
  parameter: DriveParameter,
  value: number,
): { readonly raw: number } | { readonly because: string } {
  if (!Number.isFinite(value)) return { because: `${parameter.label} has no value` };
  const raw = Math.round(value / parameter.scale);
  const [least, greatest] = rangeOf(parameter.type);
  const low = Math.max(parameter.minimum, least * parameter.scale);
  const high = Math.min(parameter.maximum, greatest * parameter.scale);
  const tolerance = parameter.scale / 2;
  if (value < low - tolerance || value > high + tolerance) {
    return { because: `${parameter.label} takes ${low} to ${high} ${parameter.unit}`.trim() };
  }
  return { raw };
}

export const fromRaw = (parameter: { readonly scale: number }, raw: number): number => {
  const value = raw * parameter.scale;
  return parameter.scale < 1 ? Number(value.toPrecision(12)) : value;
};

/** A stretch of registers to read at once. */
export interface RegisterBlock {
  readonly address: number;
  readonly words: number;
}

/**
 * The fewest reads that cover the given registers: neighbours are joined over gaps of up to `gap` words, and no block
 * is longer than 125 words (Modbus Application Protocol V1.1b3, 6.3).
 */
export function readBlocks(
  wanted: readonly { readonly address: number; readonly type: RegisterType }[],
  gap = 8,
  longest = 125,
): readonly RegisterBlock[] {
  const blocks: { address: number; words: number }[] = [];
  for (const { address, type } of [...wanted].sort((a, b) => a.address - b.address)) {
    const end = address + wordsOf(type);
    const last = blocks.at(-1);
    if (last && address <= last.address + last.words + gap && end - last.address <= longest) {
      last.words = Math.max(last.words, end - last.address);
    } else blocks.push({ address, words: end - address });
  }
  return blocks;
}
