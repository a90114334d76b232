/** What an axis or a spindle can be accepted by; lengths in axis units, s, % of rated torque, % of the commanded speed. */
export const acceptanceLimits = {
  followingError: { label: 'Peak following error', unit: '{u}', from: 'test move', of: 'axis' },
  settlingTime: { label: 'Settling after the last move', unit: 's', from: 'test move', of: 'axis' },
  peakTorque: { label: 'Peak torque', unit: '%', from: 'test move', of: 'axis' },
  rmsTorque: { label: 'RMS torque', unit: '%', from: 'test move', of: 'axis' },
  /** Four standard deviations. */
  homingRepeatability: { label: 'Repeatability of home, 4 σ', unit: '{u}', from: 'homing series', of: 'axis' },
  positionRepeatability: {
    label: 'Repeatability of positions both ways, R',
    unit: '{u}',
    from: 'positioning',
    of: 'axis',
  },
  travelError: { label: 'Travel error by the controller', unit: '{u}', from: 'controller move', of: 'axis' },
  lostPulses: { label: 'Pulses lost or doubled', unit: '', from: 'controller move', of: 'axis' },
  /** The largest of all steady speeds, with and without load. */
  speedError: { label: 'Speed error at steady speeds', unit: '%', from: 'run test', of: 'spindle' },
} as const satisfies Record<string, { label: string; unit: string; from: AcceptanceSource; of: 'axis' | 'spindle' }>;
export type AcceptanceLimit = keyof typeof acceptanceLimits;
export type AcceptanceSource = 'test move' | 'homing series' | 'positioning' | 'controller move' | 'run test';
export const acceptanceKeys = Object.keys(acceptanceLimits) as readonly AcceptanceLimit[];

export type AcceptanceVerdict = 'passed' | 'failed' | 'not measured';

/** One limit against what was measured. */
export interface AcceptanceRow {
  readonly key: AcceptanceLimit;
  readonly limit: number;
  readonly measured?: number;
  readonly verdict: AcceptanceVerdict;
  /** Why what was measured does not count. */
  readonly because?: string;
}

/** Something measured: its figures, and why it does not hold any more. */
export interface Measured {
  readonly figures: Readonly<Partial<Record<AcceptanceLimit, number | undefined>>>;
  readonly staleBecause?: string | undefined;
}

/** Every limit that is set, judged; what is stale or was not measured passes nothing. @param by undefined: nothing of it was measured */
export const judgeAcceptance = (
  limits: Readonly<Partial<Record<AcceptanceLimit, number | null>>>,
  by: Readonly<Partial<Record<AcceptanceSource, Measured | undefined>>>,
): readonly AcceptanceRow[] =>
  acceptanceKeys.flatMap((key): readonly AcceptanceRow[] => {
    const limit = limits[key] ?? null;
    if (limit === null) return [];
    const { from } = acceptanceLimits[key];
    const source = by[from];
    if (!source) return [{ key, limit, verdict: 'not measured', because: `there is no ${from}` }];
    const measured = source.figures[key];
    if (source.staleBecause !== undefined)
      return [
        {
          key,
          limit,
          ...(measured === undefined ? {} : { measured }),
          verdict: 'not measured',
          because: source.staleBecause,
        },
      ];
    if (measured === undefined || !Number.isFinite(measured))
      return [{ key, limit, verdict: 'not measured', because: `the ${from} does not show it` }];
    return [{ key, limit, measured, verdict: measured <= limit ? 'passed' : 'failed' }];
  });

/** Of the whole axis or spindle: passed only where limits are set and every one is. */
export function verdictOf(rows: readonly AcceptanceRow[]): AcceptanceVerdict {
  if (rows.some(({ verdict }) => verdict === 'failed')) return 'failed';
  return rows.length > 0 && rows.every(({ verdict }) => verdict === 'passed') ? 'passed' : 'not measured';
}
