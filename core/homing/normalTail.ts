/**
 * The chance that a normal value lies more than `x` standard deviations above its mean, also far out: the series of the error
 * function near the mean, its continued fraction beyond (Abramowitz and Stegun, 7.1.6 and 26.2.14). @returns 0 to 1
 */
export function normalTail(x: number): number {
  if (x < 0) return 1 - normalTail(-x);
  const density = Math.exp((-x * x) / 2) / Math.sqrt(2 * Math.PI);
  if (x < 3) {
    let [term, sum] = [x, x];
    for (let k = 1; k < 200 && term > 1e-17 * sum; k++) {
      term *= (x * x) / (2 * k + 1);
      sum += term;
    }
    return 0.5 - density * sum;
  }
  let fraction = x;
  for (let k = 60; k > 0; k--) fraction = x + k / fraction;
  return density / fraction;
}
