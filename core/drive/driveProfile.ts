import type { HomingForm } from './homingForm.ts';
import type { SpindleDriveRole } from './spindleSettings.ts';
import type { StoredMoveRole } from './storedMoveRole.ts';
import type { DriveInput } from './driveInput.ts';
import type { DriveOutput } from './driveOutput.ts';
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
  'accelerationFeedforward',
  'torqueFilter',
  'notchFrequency',
  'notchWidth',
  'notchDepth',
  'waitSpeedGap',
  'waitPositionGap',
  'torqueLimit',
  'followingErrorWindow',
  'minusSoftLimit',
  'plusSoftLimit',
  'homingMethod',
  'homingSearchSpeed',
  'homingCreepSpeed',
  'homingAcceleration',
  'homingIndexPulse',
  'homingMostTravel',
  'homingTorqueLimit',
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
  'minimumInputDuration',
  'startDelay',
  'homingAtEnable',
  'brakeReleaseDelay',
  'brakeEngageDelay',
  'quickStopOption',
  'shutdownOption',
  'disableOption',
  'haltOption',
  'faultReactionOption',
  'lostLinkOption',
] as const;
export type ParameterRole = (typeof parameterRoles)[number];

/** Bits of a register that hold a value of their own; both ends belong to it. */
export interface BitField {
  readonly from: number;
  readonly to: number;
}

/** The trace memory of a drive is a ring of samples of eight channels of two words. */
export const traceDepth = 3072;
export const traceChannelCount = 8;
export const traceWords = traceDepth * traceChannelCount * 2;

/** One setting of a drive, as its register map describes it. */
export interface DriveParameter {
  readonly key: string;
  readonly label: string;
  readonly group: string;
  readonly role?: ParameterRole | SpindleDriveRole | StoredMoveRole;
  /** CiA 402 object, where there is one: `0x6065`. */
  readonly object?: string;
  readonly type: RegisterType;
  /** Value in `unit` = raw × scale. */
  readonly scale: number;
  readonly unit: string;
  readonly minimum: number;
  readonly maximum: number;
  /** As its map says; absent where it does not. */
  readonly factory?: number;
  readonly takesEffect: TakesEffect;
  /** Zero-based address that is written, and that reads back what was written. */
  readonly address: number;
  /** Zero-based address of the copy in effect now; the same as `address` where the drive has only one. */
  readonly running: number;
  /** Zero-based addresses of the copies kept through a restart and as delivered; absent where they cannot be read. */
  readonly stored?: number;
  readonly factoryAddress?: number;
  /** Where several values share a register. */
  readonly bits?: BitField;
  /** What a choice means: raw value → words. */
  readonly choices: Readonly<Record<string, string>>;
  readonly help: string;
}

/** A register that is not a setting: commands, status, trace. */
export interface DriveRegister {
  readonly key: string;
  /** Given: a reading that is shown live, under this name. */
  readonly label?: string;
  readonly object?: string;
  readonly type: RegisterType;
  readonly address: number;
  readonly scale: number;
  readonly unit: string;
  /** Modbus function that reads it: 4 for input registers, else holding registers. */
  readonly function?: 4;
  readonly bits?: BitField;
}

/** What a drive counts as a sign of life: its own register, any write to it, any message, or nothing at all. */
export const watchdogFeeds = ['heartbeat register', 'any write', 'any message', 'nothing'] as const;
export type WatchdogFeed = (typeof watchdogFeeds)[number];

/** A drive as its register map describes it. */
export interface DriveProfile {
  readonly name: string;
  readonly wordOrder: WordOrder;
  readonly watchdogFedBy: WatchdogFeed;
  readonly parameters: readonly DriveParameter[];
  readonly registers: Readonly<Record<string, DriveRegister>>;
  readonly inputs: readonly DriveInput[];
  readonly outputs: readonly DriveOutput[];
  /** What the register `unlock` takes to let parameters be written; anything else locks them. Absent: the map does not say. */
  readonly unlockCode?: number;
  /** The channel of inputs in a trace has the bits of this register. Absent: the map does not say. */
  readonly tracedInputs?: 'inputStates';
  readonly homing: HomingForm;
  /** Revisions (0x1018:03) that the map was made for; empty: it does not say. */
  readonly firmwares: readonly number[];
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

/** Whether a raw value lies within the range of its parameter. */
export const isInRange = ({ scale, minimum, maximum }: DriveParameter, raw: number): boolean => {
  const value = raw * scale;
  const tolerance = Math.abs(scale) / 2;
  return value >= minimum - tolerance && value <= maximum + tolerance;
};

export const fromRaw = (parameter: { readonly scale: number }, raw: number): number => {
  const value = raw * parameter.scale;
  return parameter.scale < 1 ? Number(value.toPrecision(12)) : value;
};

/** A stretch of registers to read at once. */
export interface RegisterBlock {
  readonly address: number;
  readonly words: number;
  readonly function: 3 | 4;
}

/**
 * The fewest reads that cover the given registers: neighbours are joined over gaps of up to `gap` words, and no block
 * is longer than 125 words (Modbus Application Protocol V1.1b3, 6.3).
 */
export function readBlocks(
  wanted: readonly { readonly address: number; readonly type: RegisterType; readonly function?: 4 }[],
  gap = 8,
  longest = 125,
): readonly RegisterBlock[] {
  const blocks: { address: number; words: number; function: 3 | 4 }[] = [];
  const order = [...wanted].sort((a, b) => (a.function ?? 3) - (b.function ?? 3) || a.address - b.address);
  for (const { address, type, function: input } of order) {
    const code = input ?? 3;
    const end = address + wordsOf(type);
    const last = blocks.at(-1);
    const joins =
      last?.function === code && address <= last.address + last.words + gap && end - last.address <= longest;
    if (last && joins) last.words = Math.max(last.words, end - last.address);
    else blocks.push({ address, words: end - address, function: code });
  }
  return blocks;
}
