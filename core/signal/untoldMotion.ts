/** A change at a drive that may set its axis in motion at once. */
export const untoldChanges = ['enable', 'command source', 'mode', 'gear'] as const;
export type UntoldChange = (typeof untoldChanges)[number];

/** What stands at the drive when the change is made. */
export interface Standing {
  readonly isEnabled: boolean;
  /** A set-point other than zero is present at the input that is used afterwards; undefined: not known. */
  readonly setPoint: string | undefined | 'none';
  /** Pulses, speed or a move are under way. */
  readonly isMoving: boolean;
}

/** Whether a change may be made, and if not, what the axis would do. */
export type Verdict = { readonly may: true } | { readonly may: false; readonly because: string };

/**
 * The one rule for every kind of command: nothing that decides what the drive obeys is changed while the drive is enabled,
 * and nothing is enabled while a set-point waits.
 */
export function mayChange(change: UntoldChange, { isEnabled, setPoint, isMoving }: Standing): Verdict {
  const waiting =
    setPoint === 'none'
      ? undefined
      : setPoint === undefined
        ? 'it is not known which set-point is present at the drive'
        : `${setPoint} is present at the drive`;
  if (change === 'enable') return waiting ? refused(`${waiting}: the axis would move as soon as it is enabled`) : may;
  if (!isEnabled) return may;
  if (change === 'gear')
    return refused(
      isMoving
        ? 'the axis is moving: its speed would jump in the ratio of the two gear ratios'
        : 'the drive is enabled: increments in transit could be counted with either gear ratio, and the axis would jump',
    );
  return refused(
    waiting
      ? `the drive is enabled and ${waiting}: the axis would follow it at once`
      : `the drive is enabled: a command already present at the new ${change} would move the axis at once`,
  );
}

const may: Verdict = { may: true };
const refused = (because: string): Verdict => ({ may: false, because });
