import type { SuggestedSettings } from '@kavrid/core/tuning';
import type { TuningPlan } from '../jobs/tuningJob.ts';

/** What the model suggests, as the drive takes it: its bandwidth and its feedforward are for the inertia that it believes in. */
export function suggestedSettings(
  plan: TuningPlan | undefined,
  believed: number | null,
): SuggestedSettings | undefined {
  const { gains, inertiaRatio } = plan?.suggested ?? {};
  if (!gains || inertiaRatio === undefined || believed === null) return undefined;
  return {
    positionGain: gains.positionGain,
    speedBandwidth: (gains.bandwidth * (1 + inertiaRatio)) / (1 + believed),
    speedIntegralTime: 1000 * gains.speedIntegralTime,
    accelerationFeedforward: (100 * (1 + inertiaRatio)) / (1 + believed),
  };
}
