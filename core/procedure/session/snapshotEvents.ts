import type { DriveReading } from '../../drive/index.ts';
import { keepSnapshot } from './keepingSnapshots.ts';
import { procedureEvent, takeReading } from './procedureRunner.ts';
import { set, tell, type Turn } from './turn.ts';

export function snapshotRead(turn: Turn, reading: DriveReading): void {
  const { snapshot } = turn.state;
  takeReading(turn, reading);
  if (snapshot) keepSnapshot(turn, snapshot.name, snapshot.window);
}

export function snapshotKept(turn: Turn, id: number): void {
  const { snapshot } = turn.state;
  if (snapshot?.call !== id) return;
  set(turn, { snapshot: undefined });
  if (snapshot.window === undefined) procedureEvent(turn, { type: 'snapshot kept' });
}

/** It could not be read, or not be kept. */
export function snapshotFailed(turn: Turn, because: string): void {
  const { snapshot } = turn.state;
  if (!snapshot) return;
  set(turn, { snapshot: undefined });
  if (snapshot.window !== undefined) return tell(turn, snapshot.window, `No snapshot was kept: ${because}.`);
  procedureEvent(turn, {
    type: 'failed',
    because: `no snapshot of the drive could be kept, so nothing was written: ${because}`,
  });
}
