import type { ParameterComparison } from './compareValues.ts';

/** A value of the plates beside what the drive itself reports of its motor. */
export interface PlateComparison {
  readonly label: string;
  readonly unit: string;
  readonly plate: number;
  readonly drive: number;
  readonly agrees: boolean;
}

/** How a drive stands to its plan as a whole. */
export type DriveStanding =
  | { readonly kind: 'not read' }
  | { readonly kind: 'nothing planned' }
  /** The plan itself is not sound: a field of it holds what cannot be taken. */
  | { readonly kind: 'waiting'; readonly because: string }
  /** The drive reports another motor than the plates. */
  | { readonly kind: 'other motor'; readonly differing: readonly PlateComparison[] }
  | { readonly kind: 'open'; readonly differing: readonly ParameterComparison[] }
  | { readonly kind: 'proven' };

/** By what was read of this device, for this plan, and by nothing else. */
export function driveStanding(
  isRead: boolean,
  comparisons: readonly ParameterComparison[],
  plates: readonly PlateComparison[],
  waitsFor?: string,
): DriveStanding {
  if (!isRead) return { kind: 'not read' };
  if (waitsFor !== undefined) return { kind: 'waiting', because: waitsFor };
  const planned = comparisons.filter(({ standing }) => standing !== 'not planned');
  if (planned.length === 0) return { kind: 'nothing planned' };
  const otherMotor = plates.filter(({ agrees }) => !agrees);
  if (otherMotor.length > 0) return { kind: 'other motor', differing: otherMotor };
  const differing = planned.filter(({ standing }) => standing !== 'proven');
  return differing.length > 0 ? { kind: 'open', differing } : { kind: 'proven' };
}
