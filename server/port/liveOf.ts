import type { Activity, LinkLive, LiveState, SpindleLive } from '@kavrid/contract';
import { deviceState, isSensor, errorText, fromRaw, statusBit, type DeviceState } from '@kavrid/core/drive';
import {
  activityOf,
  addressText,
  enabledKey,
  forcedKey,
  identityMark,
  isPowered,
  isStale,
  isWeak,
  pastFaultKeys,
  type SessionState,
} from '@kavrid/core/procedure';
import { liveReadings } from './liveReadings.ts';

/** ms after which what is only shown is too old to be believed. */
const oldest = 1000;

const shownValues = ({ shown }: SessionState, now: number): Readonly<Record<string, number>> =>
  shown && now - shown.requestedAt < oldest ? shown.values : {};

/** The live state of a session for one window. Readings that are too old to be believed are absent. */
export function liveOf(memberId: string, state: SessionState, window: string, now: number): LiveState | SpindleLive {
  const values = isStale(state, now) ? undefined : state.status?.values;
  const shared = {
    ...linkOf(memberId, state, window, now),
    readings: liveReadings(state, values && { ...shownValues(state, now), ...values }),
  };
  const motion = state.plan?.motion;
  if (state.plan?.memberKind === 'spindle') {
    const { motorSpeed } = shared.readings.values;
    const ratio = motion?.kind === 'spindle' ? motion.ratio : undefined;
    return {
      ...shared,
      kind: 'spindle',
      toolSpeed: motorSpeed === undefined || ratio === undefined ? undefined : motorSpeed / ratio,
      atSpeed: isAtSpeed(state, values ?? {}),
    };
  }
  const axis = motion?.kind === 'axis' ? motion : undefined;
  const counts = values?.positionCounts;
  return {
    ...shared,
    kind: 'axis',
    position: counts === undefined || !axis ? undefined : counts * axis.unitsPerCount,
    minusLimit: Boolean((values?.inputs ?? 0) & 1),
    plusLimit: Boolean((values?.inputs ?? 0) & 2),
    homed: values?.homed === 1,
    jogLimit: axis && { speed: axis.jogLimit, by: axis.jogLimitedBy },
    isSuspended: axis?.isSuspended ?? false,
    homing: homingOf(state),
    homingSeries: seriesOf(state, axis?.unitsPerCount),
  };
}

function seriesOf({ homingSeries }: SessionState, unitsPerCount: number | undefined): LiveState['homingSeries'] {
  if (!homingSeries || unitsPerCount === undefined) return undefined;
  const { of, zeros, startedAt, by, isPaused } = homingSeries;
  return { of, startedAt, by, isPaused, homes: zeros.map((zero) => (zero - (zeros[0] ?? 0)) * unitsPerCount) };
}

const switches = ['minusLimit', 'plusLimit', 'homeSwitch'] as const;

function homingOf({ profile, plan }: SessionState): LiveState['homing'] {
  const { homing, inputs = [] } = profile ?? plan?.profile ?? {};
  return homing && { ...homing, switches: switches.filter((each) => inputs.some(({ role }) => role === each)) };
}

function linkOf(memberId: string, state: SessionState, window: string, now: number): Omit<LinkLive, 'readings'> {
  const { identity, holder, permits, temporary, restart, address } = state;
  const values = isStale(state, now) ? undefined : state.status?.values;
  const drive = values && deviceState(values.statusword ?? 0);
  // What is remembered of the drive belongs to the greeting: it may have to be stopped first.
  const isGreeting = state.link === 'greeting' || (state.link === 'up' && state.lookUp !== undefined);
  const link = isGreeting ? 'connecting' : state.link;
  return {
    memberId: memberId,
    link,
    message: state.linkMessage,
    deviceState: drive,
    activity: restart ? 'restarting' : (activityOf(state) as Activity),
    // The code of the last fault stays in the drive; it says something only as long as the fault is there.
    fault: values && isFaulty(drive) ? errorText(values.errorCode ?? 0) : undefined,
    pastFaults: pastFaultKeys.flatMap((key) => {
      const code = shownValues(state, now)[key];
      return code ? [errorText(code) ?? ''] : [];
    }),
    progress: state.progress,
    watchdog: state.watchdog,
    temporary: temporary
      .filter(({ key }) => key !== enabledKey)
      .map((each) => ({
        ...each,
        original: shownValue(state, each.key, each.original),
        temporary: shownValue(state, each.key, each.temporary),
        isHere:
          address !== undefined &&
          identity !== undefined &&
          each.address === addressText(address) &&
          each.identity === identityMark(identity),
      })),
    version: state.plan?.version,
    holder: holder === undefined ? 'nobody' : holder.window === window ? 'this window' : 'another window',
    isWatchOnly: isPowered(drive) && !state.isOurs && !permits.enable,
    identity: identity && {
      ...identity,
      mark: identityMark(identity),
      isWeak: isWeak(identity),
      isConfirmed: state.isConfirmed,
    },
    otherFirmware: otherFirmware(state),
    isStopping: state.stop !== undefined,
    unchecked: [...state.unchecked],
    address: link === 'off' ? undefined : address,
    inputs: (state.profile?.inputs ?? []).map((input) => ({
      key: input.key,
      label: input.label,
      isSensor: isSensor(input),
      level: bitOf(values?.inputLevels, input.bit),
      isActive: bitOf(values?.inputStates, input.bit),
      isForced: bitOf(values?.inputForceMask, input.bit) === true,
      isForcible: values?.inputForceMask !== undefined && input.role !== 'safeTorqueOff',
    })),
    outputs: (state.profile?.outputs ?? []).map(({ key, label, bit }) => ({
      key,
      label,
      isOn: bitOf(values?.outputStates, bit),
    })),
    walk: state.walk?.walk,
  };
}

function otherFirmware({ profile, identity }: SessionState): readonly number[] | undefined {
  const known = profile?.firmwares ?? [];
  const isOther = identity?.firmware !== undefined && known.length > 0 && !known.includes(identity.firmware);
  return isOther ? known : undefined;
}

const bitOf = (raw: number | undefined, bit: number): boolean | undefined =>
  raw === undefined ? undefined : ((raw >>> bit) & 1) === 1;

/** Share of the synchronous speed that a loaded motor keeps at least. */
const leastFollowing = 0.85;

/** The drive says that its output has reached the reference; at speed is the tool only when it turns so. */
function isAtSpeed({ plan, profile }: SessionState, values: Readonly<Record<string, number>>): boolean {
  const { statusword = 0, outputHertz, actualMotorSpeed } = values;
  const motion = plan?.motion;
  if ((statusword & statusBit.targetReached) === 0 || motion?.kind !== 'spindle' || outputHertz === undefined)
    return false;
  if (actualMotorSpeed === undefined) return false;
  const hertz = Math.abs(outputHertz * (profile?.registers.outputHertz?.scale ?? 1));
  const toolSpeed = Math.abs(actualMotorSpeed * (profile?.registers.actualMotorSpeed?.scale ?? 1)) / motion.ratio;
  return hertz > 0 && toolSpeed >= (leastFollowing * hertz) / motion.hertzPerToolRpm;
}

const isFaulty = (drive: DeviceState | undefined) =>
  drive === 'fault' || drive === 'fault reaction active' || drive === 'quick stop active';

function shownValue({ profile }: SessionState, key: string, raw: number): string {
  if (key === forcedKey) {
    const forced = profile?.inputs.filter(({ bit }) => ((raw >>> bit) & 1) === 1) ?? [];
    return forced.map(({ label }) => label).join(', ') || 'none';
  }
  const parameter = profile?.parameters.find((each) => each.key === key);
  if (!parameter) return String(raw);
  const value = fromRaw(parameter, raw);
  return parameter.choices[String(value)] ?? `${value} ${parameter.unit}`.trim();
}
