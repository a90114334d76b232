import type { ParameterStore } from './parameterStore.ts';

/**
 * What a duty cycle is read as, and what that commands: raw × numerator / denominator + offset.
 * @param duty share of the period, 0 to 1
 * @returns raw in whole steps of the full scale; the command in the unit of the offset
 */
export function scaledRaw(
  duty: number,
  parameters: ParameterStore,
): { readonly raw: number; readonly command: number } {
  const value = (key: string) => parameters.value(key);
  const raw = Math.round(duty * value('rawFullScale'));
  return { raw, command: (raw * value('rawNumerator')) / value('rawDenominator') + value('rawOffset') };
}
