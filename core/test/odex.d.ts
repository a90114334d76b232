/** The part of the package odex that the tests use; its own sources do not pass our compiler settings. */
export class Solver {
  constructor(dimension: number);
  solve(
    derivative: (t: number, y: number[]) => number[],
    from: number,
    start: readonly number[],
    to: number,
  ): { readonly y: number[] };
}
