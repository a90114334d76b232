import type { ParameterRole } from '../../drive/index.ts';

/** Gains that a drive tries for a while. */
export const tunedRoles = [
  'speedBandwidth',
  'speedIntegralTime',
  'positionGain',
  'velocityFeedforward',
  'accelerationFeedforward',
  'torqueFilter',
  'notchFrequency',
  'notchWidth',
  'notchDepth',
] as const satisfies readonly ParameterRole[];
export type TunedRole = (typeof tunedRoles)[number];

/** Gains to be tried, in the units of the drive's parameters, and what the model says of them. */
export interface TrialPlan {
  /** Those that are not as planned; null: the unit of the parameter is not known. */
  readonly values: Readonly<Partial<Record<TunedRole, number | null>>>;
  readonly model: { readonly is: 'stable' | 'unstable' } | { readonly is: 'unknown'; readonly because: string };
}
