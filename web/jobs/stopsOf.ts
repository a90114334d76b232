import type { demandedMoves, MoveChannels } from '@kavrid/core/motion';

/** Where the demand of each move has come to rest, and which way it went. */
export const stopsOf = (
  { demandPosition }: MoveChannels,
  moves: ReturnType<typeof demandedMoves>,
): readonly { readonly at: number; readonly direction: 1 | -1 }[] =>
  moves.map(({ from, to }) => ({
    at: to,
    direction: (demandPosition[to] ?? 0) >= (demandPosition[from] ?? 0) ? 1 : -1,
  }));
