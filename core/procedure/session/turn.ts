import { memberTraits } from './memberTraits.ts';
import { deviceState, type DeviceState } from '../../drive/index.ts';
import type { DeviceRequest, Permit, Purpose, SessionCommand, SessionState } from './sessionState.ts';

/** One event being reduced: the state as it becomes, and what is commanded. Lives for the time of one reduction only. */
export interface Turn {
  readonly now: number;
  readonly commands: SessionCommand[];
  state: SessionState;
}

export const set = (turn: Turn, change: Partial<SessionState>): void => {
  turn.state = { ...turn.state, ...change };
};

export function nextId(turn: Turn): number {
  const id = turn.state.nextId;
  set(turn, { nextId: id + 1 });
  return id;
}

/** Sends a request and remembers what it is for. @returns its id */
export function send(
  turn: Turn,
  purpose: Purpose,
  request: DeviceRequest,
  options: { readonly permit?: Permit | undefined; readonly isMotion?: boolean } = {},
): number {
  const id = nextId(turn);
  set(turn, { inFlight: { ...turn.state.inFlight, [id]: { purpose, sentAt: turn.now } } });
  turn.commands.push({
    type: 'send',
    id,
    request,
    permit: options.permit?.id,
    priority: purpose === 'stop' ? 'stop' : purpose === 'beat' || purpose === 'poll' ? 'beat' : 'normal',
    isMotion: options.isMotion ?? false,
  });
  return id;
}

export const tell = (turn: Turn, window: string, because: string): void => {
  turn.commands.push({ type: 'tell', window, because });
};

export const has = (state: SessionState, register: string): boolean => state.profile?.registers[register] !== undefined;

/** Registers of one look at the drive, as far as its map has them. */
export const statusKeys = (state: SessionState): readonly string[] =>
  memberTraits[state.plan?.memberKind ?? 'axis'].statusRegisters.filter((key) => has(state, key));

/** Registers with the codes of the last faults, the newest first. */
export const pastFaultKeys: readonly string[] = Array.from({ length: 8 }, (_, k) => `pastFault${k + 1}`);

/** Readings that a map only shows. They are looked at less often, so that they hold up nothing that a stop depends on. */
export const shownKeys = (state: SessionState): readonly string[] => {
  const needed = new Set(statusKeys(state));
  const shown = Object.values(state.profile?.registers ?? {}).filter(
    ({ key, label }) => label !== undefined || pastFaultKeys.includes(key),
  );
  return shown.map(({ key }) => key).filter((key) => !needed.has(key));
};

export const isStale = (state: SessionState, now: number): boolean =>
  state.status === undefined || now - state.status.requestedAt > state.timing.stale;

/** The state of the drive by its last status; undefined when that is too old or there is none. */
export const driveState = (state: SessionState, now: number): DeviceState | undefined =>
  isStale(state, now) ? undefined : deviceState(state.status?.values.statusword ?? 0);

export const isPowered = (state: DeviceState | undefined): boolean =>
  state === 'operation enabled' || state === 'quick stop active' || state === 'fault reaction active';

/** Whether the last status shows the axis or spindle at rest; without a register of speed, that its motor is off. */
export function stands({ status, plan, profile }: SessionState): boolean {
  if (!status) return false;
  const isOff = !isPowered(deviceState(status.values.statusword ?? 0));
  return memberTraits[plan?.memberKind ?? 'axis'].stands({ values: status.values, isOff, plan, profile });
}

export const isActing = ({ permits }: SessionState): boolean =>
  permits.enable !== undefined || permits.act !== undefined;

/** With a capital and a full stop. */
export const sentence = (text: string): string => `${text.charAt(0).toUpperCase()}${text.slice(1)}.`;

export const isLive = (state: SessionState, permit: number): boolean =>
  state.permits.enable?.id === permit || state.permits.act?.id === permit;

/** A member that works with its device, or may still move it; another must wait. */
export const holdsDevice = (state: SessionState): boolean =>
  state.permits.enable !== undefined || state.permits.act !== undefined || state.stop !== undefined;

export const activityOf = (state: SessionState): string =>
  state.script?.activity ??
  (state.stop ? 'stopping' : state.procedure && isBusy(state) ? 'writing drive data' : 'idle');

export const isBusy = ({ procedure }: SessionState): boolean =>
  procedure !== undefined && !['idle', 'review', 'proven', 'failed'].includes(procedure.phase);
