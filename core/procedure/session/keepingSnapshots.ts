import { identityMark } from './deviceIdentity.ts';
import { nextId, send, set, tell, type Turn } from './turn.ts';

/** Reads the drive, to keep what is in it under a name. */
export function takeSnapshot(turn: Turn, window: string, name: string): void {
  if (turn.state.snapshot) return tell(turn, window, 'A snapshot is being taken already.');
  set(turn, { snapshot: { name, window, call: undefined } });
  send(turn, 'snapshot', { kind: 'read all' });
}

/** Keeps the reading as it stands. */
export function keepSnapshot(turn: Turn, name: string, window: string | undefined): void {
  const { identity, profile, reading, clock } = turn.state;
  if (!identity || !profile || !reading || !clock) return;
  const call = nextId(turn);
  set(turn, { snapshot: { name, window, call } });
  turn.commands.push({
    type: 'keep snapshot',
    id: call,
    isAutomatic: window === undefined,
    snapshot: {
      name,
      takenAt: new Date(clock.wall).toISOString(),
      identity: identityMark(identity),
      map: profile.name,
      reading,
    },
  });
}
