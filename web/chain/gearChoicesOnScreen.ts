import { gearChoices, gearWays, resolutionChoices, type GearChoice } from '@kavrid/core/chain';
import { valueOf } from '@kavrid/core/sheet';
import { useMemo } from 'react';
import { useAxis } from '../member/useAxis.ts';
import { useShownUnits } from '../ui/units.ts';

/** The ways the drive has, and why there are none. */
export function useWays() {
  const { computation } = useAxis();
  const { input, results } = computation;
  return useMemo(() => ({ ways: gearWays(input, results), results }), [input, results]);
}

/** Every choice there is: near the wanted resolution and over the whole range. */
export function useAllChoices(): readonly GearChoice[] {
  const { ways, results } = useWays();
  return useMemo(() => {
    if (!ways) return [];
    const near = gearChoices(results, ways, 8);
    const taken = new Set(near.map(({ fraction }) => `${fraction.numerator}/${fraction.denominator}`));
    const others = resolutionChoices(results, ways).filter(
      ({ fraction }) => !taken.has(`${fraction.numerator}/${fraction.denominator}`),
    );
    return [...near, ...others];
  }, [ways, results]);
}

export const useWantedSpeed = () => valueOf(useAxis().computation.results.wantedSpeed);
export const useGearUnits = () => useShownUnits(useAxis().computation.input);
