import { controlword, fromRaw, parameterOfRole } from '../../drive/index.ts';
import { beginActivity, givePermit } from './beginActivity.ts';
import { gainsKept, gainsOnTrial } from './heldGains.ts';
import { procedureEvent } from './procedureRunner.ts';
import type { SessionMessage } from './sessionMessages.ts';
import type { Step } from './step.ts';
import { enabledKey, forcedKey, settingsHere, type TemporarySetting } from './temporarySetting.ts';
import { driveState, isActing, isBusy, isPowered, set, stands, tell, type Turn } from './turn.ts';

/** Reads the drive and compares it with the plan, or with values from elsewhere. */
export function readDrive(turn: Turn, { target }: Extract<SessionMessage, { type: 'readDrive' }>): void {
  const { plan, survived, procedure } = turn.state;
  if (!plan) return;
  procedureEvent(turn, {
    type: 'start',
    planned: plan.planned,
    survived,
    target:
      target === undefined
        ? { kind: 'plan' }
        : target === 'as before'
          ? (procedure?.target ?? { kind: 'plan' })
          : { kind: 'values', ...target },
  });
}

/** Writes what differs, as it has been shown. */
export function writeDrive(turn: Turn, window: string): void {
  const { plan, temporary, procedure } = turn.state;
  if (!plan) return;
  if (plan.waitsFor !== undefined && procedure?.target.kind !== 'values') return tell(turn, window, plan.waitsFor);
  const drive = driveState(turn.state, turn.now);
  if (drive === undefined) return tell(turn, window, 'The state of the drive is not known.');
  if (isPowered(drive)) return tell(turn, window, 'Disable the drive first: values are written with the motor off.');
  if (temporary.some(({ key }) => key !== enabledKey))
    return tell(
      turn,
      window,
      'Restore the temporary settings first, so that they are not stored as if they were planned.',
    );
  givePermit(turn, window);
  procedureEvent(turn, { type: 'confirm', planned: plan.planned });
}

/** Puts temporary settings back, each read back before it is forgotten. */
export function restore(turn: Turn, window: string, isHostQuiet: boolean): void {
  const { profile } = turn.state;
  const own = settingsHere(turn.state).filter(({ key }) => key !== enabledKey);
  if (own.length === 0) return tell(turn, window, 'There is nothing to restore at this drive.');
  const drive = driveState(turn.state, turn.now);
  if (drive === undefined || isPowered(drive))
    return tell(turn, window, 'Switch the motor off first: settings are restored with the motor off.');
  const needsQuiet = own.find(({ key, original, temporary: now }) => {
    const parameter = profile?.parameters.find((each) => each.key === key);
    if (!profile || !parameter) return false;
    const isSource = parameterOfRole(profile, 'commandSource')?.key === key;
    return isSource || fromRaw(parameter, original) > fromRaw(parameter, now);
  });
  if (needsQuiet && !isHostQuiet)
    return tell(
      turn,
      window,
      `${needsQuiet.label} goes back to the host. Confirm first that the host’s enable is off and its command is zero.`,
    );
  beginActivity(turn, window, 'restoring', [
    { do: 'write', register: 'controlword', raw: controlword.disableVoltage },
    { do: 'await', what: 'Switching off', until: { is: 'off' }, seconds: 3 },
    ...own.flatMap((setting): readonly Step[] =>
      setting.key === forcedKey
        ? [
            { do: 'write', register: 'inputForceMask', raw: 0 },
            { do: 'read back', register: 'inputForceMask', raw: 0 },
            { do: 'forget', setting },
          ]
        : [...putBack(setting)],
    ),
  ]);
}

/** A parameter gets its original value, is read back, and forgotten. */
export const putBack = (setting: TemporarySetting): readonly Step[] => [
  { do: 'write parameter', key: setting.key, raw: setting.original },
  { do: 'read back parameter', key: setting.key, raw: setting.original },
  { do: 'forget', setting },
];

/** Changed for a guided step only: they are put back as soon as the motor is off, whatever has ended it. */
const stepRoles = ['torqueLimit', 'followingErrorWindow'] as const;

/** What a guided step has changed and is not put back yet. */
export function leftByStep(state: Turn['state']): readonly TemporarySetting[] {
  const { profile } = state;
  const keys = stepRoles.flatMap((role) => (profile && parameterOfRole(profile, role)?.key) ?? []);
  return settingsHere(state).filter(({ key }) => keys.includes(key));
}

/** Puts the gains of a trial back while the axis stands, with the motor on. */
export function putBackGains(turn: Turn, window: string): void {
  const own = gainsOnTrial(turn.state);
  if (own.length === 0) return tell(turn, window, 'The drive holds no trial gains.');
  if (!stands(turn.state)) return tell(turn, window, 'The axis moves. Gains are put back while it stands.');
  beginActivity(turn, window, 'restoring', own.flatMap(putBack));
}

/**
 * Gains of a trial that the plan has taken over are not put back any more: each is read back and forgotten. The drive holds them, and has not
 * stored them.
 */
export function tendKeptGains(turn: Turn): void {
  const { link, isConfirmed, script, stop, recording, lookUp, restoreAt, guided, procedure } = turn.state;
  if (link !== 'up' || !isConfirmed || script || stop || recording || lookUp !== undefined) return;
  if (turn.now < restoreAt || guided?.phase === 'ready' || (procedure && isBusy(turn.state))) return;
  const kept = gainsKept(turn.state);
  if (kept.length === 0) return;
  set(turn, { restoreAt: turn.now + restoreAgain });
  beginActivity(
    turn,
    '',
    'restoring',
    kept.flatMap((setting): readonly Step[] => [
      { do: 'read back parameter', key: setting.key, raw: setting.temporary },
      { do: 'forget', setting },
    ]),
  );
}

/** ms until the next try, when one has failed */
const restoreAgain = 2000;

/** Puts back what a guided step, a press or a trial of gains has changed: with the motor off, without being asked, after a crash as well. */
export function tendLeftByStep(turn: Turn): void {
  const { link, isConfirmed, script, stop, recording, lookUp, restoreAt, guided, procedure } = turn.state;
  const isFree = !script && !stop && !recording && !isActing(turn.state) && lookUp === undefined && !turn.state.restart;
  if (link !== 'up' || !isConfirmed || !isFree || turn.now < restoreAt || (procedure && isBusy(turn.state))) return;
  if (guided && (guided.phase === 'drilling' || guided.phase === 'ready')) return;
  const drive = driveState(turn.state, turn.now);
  const kept = gainsKept(turn.state);
  const left = [...leftByStep(turn.state), ...gainsOnTrial(turn.state).filter((each) => !kept.includes(each))];
  if (left.length === 0 || drive === undefined || isPowered(drive)) return;
  set(turn, { restoreAt: turn.now + restoreAgain });
  beginActivity(turn, '', 'restoring', left.flatMap(putBack));
}
