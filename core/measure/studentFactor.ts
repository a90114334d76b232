/** Two-sided 95 % factors of Student's distribution for 1 to 30 degrees of freedom (printed tables; from memory). */
const table = [
  12.706, 4.303, 3.182, 2.776, 2.571, 2.447, 2.365, 2.306, 2.262, 2.228, 2.201, 2.179, 2.16, 2.145, 2.131, 2.12, 2.11,
  2.101, 2.093, 2.086, 2.08, 2.074, 2.069, 2.064, 2.06, 2.056, 2.052, 2.048, 2.045, 2.042,
] as const;

/** The factor that turns a standard error into a 95 % uncertainty; infinite without a degree of freedom. */
export function studentFactor(degreesOfFreedom: number): number {
  if (degreesOfFreedom < 1) return Infinity;
  // Beyond the table: the normal factor and the first terms of its expansion in 1/ν (Abramowitz and Stegun, 26.7.5).
  const z = 1.959964;
  return (
    table[Math.floor(degreesOfFreedom) - 1] ??
    z + (z ** 3 + z) / (4 * degreesOfFreedom) + (5 * z ** 5 + 16 * z ** 3 + 3 * z) / (96 * degreesOfFreedom ** 2)
  );
}
