import type { Activity, LinkLive, LiveState, SpindleLive } from '@kavrid/contract';
import { deviceState, errorText, fromRaw, statusBit } from '@kavrid/core/drive';
import {
  activityOf,
  addressText,
  enabledKey,
  identityMark,
  isPowered,
  isStale,
  isWeak,
  type SessionState,
} from '@kavrid/core/procedure';

/** What one window is told of a session. Readings that are too old to be believed are absent. */
export function liveOf(memberId: string, state: SessionState, window: string, now: number): LiveState | SpindleLive {
  const values = isStale(state, now) ? undefined : state.status?.values;
  const scaled = (key: string) => {
    const raw = values?.[key];
    return raw === undefined ? undefined : raw * (state.profile?.registers[key]?.scale ?? 1);
  };
  const shared = linkOf(memberId, state, window, now);
  const motion = state.plan?.motion;
  if (state.plan?.memberKind === 'spindle') {
    const motorSpeed = scaled('actualMotorSpeed');
    const ratio = motion?.kind === 'spindle' ? motion.ratio : undefined;
    return {
      ...shared,
      kind: 'spindle',
      hertz: scaled('outputHertz'),
      motorSpeed,
      toolSpeed: motorSpeed === undefined || ratio === undefined ? undefined : motorSpeed / ratio,
      current: scaled('motorCurrent'),
      torque: scaled('motorTorque'),
      busVolts: scaled('busVolts'),
      atSpeed: Boolean((values?.statusword ?? 0) & statusBit.targetReached),
    };
  }
  const axis = motion?.kind === 'axis' ? motion : undefined;
  const units = (key: string) => {
    const raw = values?.[key];
    return raw === undefined || !axis ? undefined : raw * axis.unitsPerCount;
  };
  return {
    ...shared,
    kind: 'axis',
    position: units('positionCounts'),
    speed: units('velocityCounts'),
    followingError: units('followingErrorCounts'),
    torque: values?.torque === undefined ? undefined : values.torque * 0.1 * (axis?.sign ?? 1),
    minusLimit: Boolean((values?.inputs ?? 0) & 1),
    plusLimit: Boolean((values?.inputs ?? 0) & 2),
    homed: values?.homed === 1,
    jogLimit: axis && { speed: axis.jogLimit, by: axis.jogLimitedBy },
    isSuspended: axis?.isSuspended ?? false,
  };
}

function linkOf(memberId: string, state: SessionState, window: string, now: number): LinkLive {
  const { identity, holder, permits, temporary, restart, address } = state;
  const values = isStale(state, now) ? undefined : state.status?.values;
  const drive = values && deviceState(values.statusword ?? 0);
  const link = state.link === 'greeting' ? 'connecting' : state.link;
  return {
    axisId: memberId,
    link,
    message: state.linkMessage,
    deviceState: drive,
    activity: restart ? 'restarting' : (activityOf(state) as Activity),
    fault: values && errorText(values.errorCode ?? 0),
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
    isStopping: state.stop !== undefined,
    unchecked: [...state.unchecked],
    address: link === 'off' ? undefined : address,
  };
}

function shownValue({ profile }: SessionState, key: string, raw: number): string {
  const parameter = profile?.parameters.find((each) => each.key === key);
  if (!parameter) return String(raw);
  const value = fromRaw(parameter, raw);
  return parameter.choices[String(value)] ?? `${value} ${parameter.unit}`.trim();
}
