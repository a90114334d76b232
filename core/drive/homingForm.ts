import type { HomingFailure, HomingMethod } from '../homing/index.ts';

/**
 * What a drive makes of object 0x607C. By the text of CiA 402 zero lies the offset beyond home, so that home itself reads −0x607C; in
 * many drives home reads the offset.
 */
export const homeOffsetMeanings = ['zero is home plus offset', 'home reads the offset'] as const;
export type HomeOffsetMeaning = (typeof homeOffsetMeanings)[number];

/** From where the soft limits of object 0x607D count. */
export const softLimitOrigins = ['zero', 'home'] as const;
export type SoftLimitOrigin = (typeof softLimitOrigins)[number];

/** How a drive has the values of a homing; what its map does not say is absent. */
export interface HomingForm {
  readonly homeOffset?: HomeOffsetMeaning;
  readonly softLimitsFrom?: SoftLimitOrigin;
  /** What its register `homingFailure` means. */
  readonly failures?: Readonly<Record<number, HomingFailure>>;
  /** The number of each method that it has. */
  readonly methods?: Readonly<Partial<Record<HomingMethod, number>>>;
}

/** What is written to 0x607C so that the latched point reads `positionAtHome`; undefined: the map does not say what the drive makes of it. */
export function homeOffsetFor(positionAtHome: number, { homeOffset }: HomingForm): number | undefined {
  if (positionAtHome === 0) return 0;
  switch (homeOffset) {
    case undefined:
      return undefined;
    case 'zero is home plus offset':
      return -positionAtHome;
    case 'home reads the offset':
      return positionAtHome;
  }
}

/** What is written for a soft limit at a position; undefined: the map does not say from where the drive counts it. */
export function softLimitFor(
  position: number,
  positionAtHome: number,
  { softLimitsFrom }: HomingForm,
): number | undefined {
  if (positionAtHome === 0 || softLimitsFrom === 'zero') return position;
  return softLimitsFrom === 'home' ? position - positionAtHome : undefined;
}
