import type { AxisValues } from '@kavrid/core/chain';

type Symbol = keyof AxisValues & string;

/** Results that stand together. */
export interface ResultGroup {
  readonly title: string;
  readonly symbols: readonly Symbol[];
  /** Shown only where they are known: their inputs are optional. */
  readonly optional?: readonly Symbol[];
}
