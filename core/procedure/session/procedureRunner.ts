import { memberTraits } from './memberTraits.ts';
import {
  fromRaw,
  parameterOfRole,
  type DriveReading,
  type ParameterComparison,
  type RawValues,
} from '../../drive/index.ts';
import { settingsDigest } from '../../evidence/index.ts';
import {
  stepWriteAndVerify,
  stillThere,
  writeAndVerify,
  type WriteAndVerifyCommand,
  type WriteAndVerifyEvent,
  type WriteAndVerifyState,
} from '../writeAndVerify.ts';
import { identityKeys, identityMark, identityOf } from './deviceIdentity.ts';
import { keepSnapshot } from './keepingSnapshots.ts';
import type { DeviceAnswer } from './sessionState.ts';
import { has, isBusy, send, set, type Turn } from './turn.ts';

/** ms a drive may take to come back from a restart */
const restartTime = 15_000;

/** What has been read from the drive, whatever the reason. */
export function takeReading(turn: Turn, reading: DriveReading): void {
  const { profile, plan } = turn.state;
  const { role, milliseconds } = memberTraits[plan?.memberKind ?? 'axis'].watchdog;
  const parameter = profile && parameterOfRole(profile, role);
  const raw = parameter && reading.running[parameter.key];
  set(turn, {
    reading,
    readAt: turn.state.clock?.wall,
    survived: stillThere(turn.state.survived, reading),
    watchdog: parameter && raw !== undefined ? fromRaw(parameter, raw) * milliseconds : undefined,
  });
  turn.commands.push({ type: 'drive data changed' });
}

/** A request of the procedure has been answered. */
export function procedureAnswered(turn: Turn, answer: DeviceAnswer): void {
  if (answer.kind === 'reading') {
    takeReading(turn, answer.reading);
    return procedureEvent(turn, { type: 'read', reading: answer.reading });
  }
  const { procedure } = turn.state;
  switch (procedure?.phase) {
    case 'unlocking':
      return procedureEvent(turn, { type: 'unlocked' });
    case 'identifying':
      return answer.kind === 'values' ? identified(turn, answer.values) : undefined;
    case 'writing':
      return procedureEvent(turn, { type: 'written', key: procedure.queue[0] ?? '' });
    case 'storing':
      return procedureEvent(turn, { type: 'stored' });
    case 'restarting':
      // Its answer says that it restarts; the next status says that it is back.
      return set(turn, { restart: { since: turn.now + 100, by: turn.now + restartTime }, status: undefined });
    default:
      return;
  }
}

/** Before each sequence of writes: another device at the address is given nothing. */
function identified(turn: Turn, values: Readonly<Record<string, number>>): void {
  const { identity } = turn.state;
  const isSame = identity !== undefined && identityMark(identityOf(values)) === identityMark(identity);
  procedureEvent(
    turn,
    isSame
      ? { type: 'identified', isLocked: (values.locked ?? 0) !== 0 }
      : { type: 'failed', because: 'another device responds at this address, so nothing was written', isRefused: true },
  );
}

/** Passes an event to the procedure and sends its commands under the permit of the requesting window. */
export function procedureEvent(turn: Turn, event: WriteAndVerifyEvent): void {
  const { profile } = turn.state;
  if (!profile) return;
  const { state, commands } = stepWriteAndVerify(turn.state.procedure ?? writeAndVerify(profile), event);
  const isNewlyProven =
    state.phase === 'proven' && turn.state.procedure?.phase !== 'proven' && state.target.kind === 'plan';
  set(turn, { procedure: state, survived: state.survived });
  if (isNewlyProven) keepProof(turn, state);
  turn.commands.push({ type: 'drive data changed' });
  for (const command of commands) carryOut(turn, command);
  if (!isBusy(turn.state)) set(turn, { permits: { ...turn.state.permits, act: undefined } });
}

/** Every planned value has been read back, running and stored: evidence for this device and this plan. */
function keepProof(turn: Turn, { comparisons }: WriteAndVerifyState): void {
  const { plan, identity, clock } = turn.state;
  const values = plannedRaw(comparisons);
  if (!plan || !identity || !clock || Object.keys(values).length === 0) return;
  const proof = {
    kind: 'drive values',
    madeAt: new Date(clock.wall).toISOString(),
    revision: plan.version,
    identity: identityMark(identity),
    digest: settingsDigest(values),
    payload: { values },
  } as const;
  // What it read back has survived, whether its stored copy can be read or not.
  set(turn, { proof, survived: { ...turn.state.survived, ...values } });
  turn.commands.push({ type: 'keep proof', proof });
}

/** Raw values of the plan by parameter key. */
export const plannedRaw = (comparisons: readonly ParameterComparison[]): RawValues =>
  Object.fromEntries(
    comparisons.flatMap(({ parameter, planned }) => (planned === undefined ? [] : [[parameter.key, planned]])),
  );

const nameBeforeWriting = ({ plan, procedure }: Turn['state']): string =>
  procedure?.target.kind === 'values'
    ? `Before writing ${procedure.target.label}`.slice(0, 80)
    : `Before writing revision ${plan?.version ?? '?'}`;

const saveSignature = 0x65766173;

function carryOut(turn: Turn, command: WriteAndVerifyCommand): void {
  if (command.type === 'read') return void send(turn, 'procedure', { kind: 'read all' });
  // Locking needs no leave: it takes something away.
  if (command.type === 'lock') return void send(turn, 'lock', { kind: 'write', register: 'unlock', raw: 0 });
  const permit = turn.state.permits.act;
  if (!permit) return procedureEvent(turn, { type: 'failed', because: 'it was stopped' });
  switch (command.type) {
    case 'identify': {
      const { profile } = turn.state;
      const registers = profile ? [...identityKeys(profile), ...(profile.registers.locked ? ['locked'] : [])] : [];
      return registers.length === 0
        ? procedureEvent(turn, { type: 'identified' })
        : void send(turn, 'procedure', { kind: 'read', registers });
    }
    case 'unlock': {
      const raw = turn.state.profile?.unlockCode ?? 0;
      return void send(turn, 'procedure', { kind: 'write', register: 'unlock', raw }, { permit });
    }
    case 'keep snapshot':
      return keepSnapshot(turn, nameBeforeWriting(turn.state), undefined);
    case 'write':
      return void send(turn, 'procedure', { kind: 'write parameter', key: command.key, raw: command.raw }, { permit });
    case 'store':
    case 'restart': {
      if (!has(turn.state, command.type))
        return procedureEvent(turn, { type: 'failed', because: `the register map has no register ${command.type}` });
      const raw = command.type === 'store' ? saveSignature : 1;
      return void send(turn, 'procedure', { kind: 'write', register: command.type, raw }, { permit });
    }
  }
}

export function tendRestart(turn: Turn): void {
  const { restart } = turn.state;
  if (!restart || turn.now < restart.by) return;
  set(turn, { restart: undefined });
  procedureEvent(turn, { type: 'failed', because: 'the drive did not come back within 15 s of the restart' });
}
