/** What an axis can be accepted by; lengths in axis units, s, % of rated torque. */
export const acceptanceLimits = {
  followingError: { label: 'Peak following error', unit: '{u}', from: 'test move' },
  settlingTime: { label: 'Settling after the last move', unit: 's', from: 'test move' },
  peakTorque: { label: 'Peak torque', unit: '%', from: 'test move' },
  rmsTorque: { label: 'RMS torque', unit: '%', from: 'test move' },
  /** Four standard deviations. */
  homingRepeatability: { label: 'Repeatability of home, 4 σ', unit: '{u}', from: 'homing series' },
  positionRepeatability: { label: 'Repeatability of positions both ways, R', unit: '{u}', from: 'positioning' },
  travelError: { label: 'Travel error by the controller', unit: '{u}', from: 'controller move' },
  lostPulses: { label: 'Pulses lost or doubled', unit: '', from: 'controller move' },
} as const satisfies Record<string, { label: string; unit: string; from: AcceptanceSource }>;
export type AcceptanceLimit = keyof typeof acceptanceLimits;
export type AcceptanceSource = 'test move' | 'homing series' | 'positioning' | 'controller move';
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
  limits: Readonly<Record<AcceptanceLimit, number | null>>,
  by: Readonly<Record<AcceptanceSource, Measured | undefined>>,
): readonly AcceptanceRow[] =>
  acceptanceKeys.flatMap((key): readonly AcceptanceRow[] => {
    const limit = limits[key];
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

/** Of the whole axis: passed only where limits are set and every one is. */
export function verdictOf(rows: readonly AcceptanceRow[]): AcceptanceVerdict {
  if (rows.some(({ verdict }) => verdict === 'failed')) return 'failed';
  return rows.length > 0 && rows.every(({ verdict }) => verdict === 'passed') ? 'passed' : 'not measured';
}
