/** Samples looked at together, and share of the highest demanded speed by which the demand of them may differ. */
const [together, steadyShare] = [64, 0.005];

/**
 * Three standard deviations of a measured speed about its mean while the demanded one is steady, the median of all such stretches.
 * undefined: there is none
 */
export function speedNoise(
  demandPosition: Float64Array,
  actualSpeed: Float64Array,
  period: number,
): number | undefined {
  const demanded = (k: number) => ((demandPosition[k + 1] ?? NaN) - (demandPosition[k] ?? NaN)) / period;
  let top = 0;
  for (let k = 0; k + 1 < demandPosition.length; k++) top = Math.max(top, Math.abs(demanded(k)) || 0);
  const found: number[] = [];
  for (let from = 0; from + together < demandPosition.length; from += together) {
    let [low, high, sum, squares] = [Infinity, -Infinity, 0, 0];
    for (let k = from; k < from + together; k++) {
      const [wanted, speed] = [demanded(k), actualSpeed[k] ?? NaN];
      low = Math.min(low, wanted);
      high = Math.max(high, wanted);
      sum += speed;
      squares += speed * speed;
    }
    // What stands still shows no noise of a speed.
    if (!(high - low <= steadyShare * top) || high === 0 || Number.isNaN(sum)) continue;
    found.push(3 * Math.sqrt(Math.max(0, squares / together - (sum / together) ** 2)));
  }
  found.sort((a, b) => a - b);
  return found[found.length >> 1];
}
