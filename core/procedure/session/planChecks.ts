import {
  fromRaw,
  isStoredMoveRole,
  parameterOfRole,
  toRaw,
  type DriveParameter,
  type DriveProfile,
  type ParameterRole,
  type SpindleDriveRole,
} from '../../drive/index.ts';
import type { MemberPlan } from './memberPlan.ts';

export type CheckedRole = ParameterRole | SpindleDriveRole;

const gear = ['gearNumerator', 'gearDenominator', 'pulsesPerRevolution', 'gearMultiplier'] as const;

/** Read before each press and run of an axis: what a unit means, which way is plus, where it ends, who stops it. */
export const pressRoles: readonly CheckedRole[] = [
  ...gear,
  'rotationSense',
  'minusSoftLimit',
  'plusSoftLimit',
  'limitActiveLevel',
  'torqueLimit',
  'followingErrorWindow',
  'watchdogTime',
  'quickStopOption',
];
export const homingRoles: readonly CheckedRole[] = [
  ...pressRoles,
  'homingMethod',
  'homingSearchSpeed',
  'homingCreepSpeed',
  'homingAcceleration',
  'homingIndexPulse',
  'homingMostTravel',
  'homingTorqueLimit',
  'homeOffset',
];
export const enableRoles: readonly CheckedRole[] = [
  ...homingRoles,
  'enableActiveLevel',
  'shutdownOption',
  'disableOption',
  'haltOption',
  'faultReactionOption',
  'lostLinkOption',
];
/** Read before a spindle is started or its speed is changed. */
export const spindleRoles: readonly CheckedRole[] = [
  'motorHertz',
  'motorVolts',
  'baseHertz',
  'baseVolts',
  'highestHertz',
  'lowestHertz',
  'rampUp',
  'rampDown',
  'stopWay',
  'protectionCurrent',
  'runSource',
  'speedSource',
  'busTimeOut',
  'lostLink',
];

/** Roles of which a drive has one or another. */
const alternatives: readonly (readonly CheckedRole[])[] = [gear];

const roleWords: Partial<Readonly<Record<CheckedRole, string>>> = {
  gearNumerator: 'electronic gear',
  rotationSense: 'rotation sense',
  minusSoftLimit: 'minus soft limit',
  plusSoftLimit: 'plus soft limit',
  limitActiveLevel: 'active level of the limits',
  torqueLimit: 'torque limit',
  followingErrorWindow: 'following-error window',
  watchdogTime: 'watchdog',
  quickStopOption: 'quick stop option (0x605A)',
  shutdownOption: 'shutdown option (0x605B)',
  disableOption: 'disable option (0x605C)',
  haltOption: 'halt option (0x605D)',
  faultReactionOption: 'fault reaction option (0x605E)',
  lostLinkOption: 'lost-link option (0x6007)',
  homingMethod: 'homing method',
  enableActiveLevel: 'active level of the enable input',
  runSource: 'run command source',
  speedSource: 'speed command source',
  busTimeOut: 'communication timeout',
  lostLink: 'action on a lost link',
};

/** The parameters of these roles that the map has. */
export const checkedParameters = (profile: DriveProfile, roles: readonly CheckedRole[]): readonly DriveParameter[] =>
  roles.flatMap((role) => parameterOfRole(profile, role) ?? []);

/** The roles, in words, that the map does not have and that are therefore not checked. */
export const uncheckedRoles = (profile: DriveProfile, roles: readonly CheckedRole[]): readonly string[] =>
  roles.flatMap((role) => {
    const group = alternatives.find((each) => each.includes(role)) ?? [role];
    if (group[0] !== role || group.some((each) => parameterOfRole(profile, each))) return [];
    return roleWords[role] ?? [];
  });

/** What matters for the motion of a kind of member, and its map does not have. */
export const rolesNotInMap = (profile: DriveProfile, kind: MemberPlan['memberKind']): readonly string[] =>
  uncheckedRoles(profile, kind === 'axis' ? enableRoles : spindleRoles);

/** Why nothing would stop this drive when its link fails; undefined: its own watchdog does. */
export function noWatchdog(profile: DriveProfile, role: 'watchdogTime' | 'busTimeOut'): string | undefined {
  if (!parameterOfRole(profile, role))
    return 'The register map has no watchdog time, so it is not known whether the drive stops when its link fails. Motion is refused.';
  return profile.watchdogFedBy === 'nothing'
    ? 'The register map does not say what resets the watchdog of this drive (row “profile,watchdog”). Motion is refused.'
    : undefined;
}

/** 0 of 0x605A lets the axis coast; 0 of 0x6007 does nothing when the link is lost (IEC 61800-7-201). */
const forbidden: Partial<Readonly<Record<CheckedRole, readonly [raw: number, because: string]>>> = {
  quickStopOption: [0, 'a quick stop would let the axis coast; set it to stop on the quick-stop ramp'],
  lostLinkOption: [0, 'the drive would do nothing when the link is lost; set it to stop'],
  watchdogTime: [0, 'the watchdog is off, so nothing would stop the axis when the link fails; set its time'],
  busTimeOut: [
    0,
    'the communication timeout is off, so nothing would stop the spindle when the link fails; set its time',
  ],
};

/**
 * Why the drive may not move with these running values; undefined: it holds what is planned.
 * @param temporary raw values by key that were put in place of the planned ones for a test
 */
export function planRefusal(
  plan: MemberPlan,
  profile: DriveProfile,
  roles: readonly CheckedRole[],
  values: Readonly<Record<string, number>>,
  temporary: Readonly<Record<string, number>> = {},
): string | undefined {
  for (const parameter of checkedParameters(profile, roles)) {
    const raw = values[parameter.key];
    if (raw === undefined) return `${parameter.label} could not be read from the drive.`;
    const { role } = parameter;
    const never = role && !isStoredMoveRole(role) ? forbidden[role] : undefined;
    if (never && raw === never[0]) return `${parameter.label} is ${shown(parameter, raw)} in the drive: ${never[1]}.`;
    if (parameter.role === 'lostLink' && parameter.choices[String(fromRaw(parameter, raw))]?.startsWith('goes on'))
      return `${parameter.label}: the drive would keep running without its link. Set it to ramp down or coast.`;
    if (raw === temporary[parameter.key]) continue;
    const planned = plan.planned[parameter.key];
    if (planned === undefined) continue;
    const wanted = toRaw(parameter, planned);
    if ('because' in wanted) return `${wanted.because}: the plan cannot be written to the drive.`;
    if (wanted.raw !== raw)
      return `${parameter.label} is ${shown(parameter, raw)} in the drive and ${shown(parameter, wanted.raw)} in the plan. Write the plan to the drive, or correct the plan.`;
  }
  return undefined;
}

const shown = (parameter: DriveParameter, raw: number): string => {
  const value = fromRaw(parameter, raw);
  return parameter.choices[String(value)] ?? `${value} ${parameter.unit}`.trim();
};
