/** The part of the package jstat that the tests use; it brings no types. */
export const jStat: {
  readonly models: {
    ols(
      y: readonly number[],
      x: readonly (readonly number[])[],
    ): { readonly coef: readonly number[]; readonly t: { readonly se: readonly number[] } };
  };
  readonly studentt: { inv(probability: number, degreesOfFreedom: number): number };
};
