import type { Exact } from '../quantity/index.ts';
import type { Outcome } from '../sheet/index.ts';
import type { Stage } from './stages/stage.ts';

/** One place on the way of a value from the controller to the load. */
export interface Station {
  readonly id: string;
  readonly kind: 'controller' | 'drive' | 'motor' | 'stage' | 'load';
  readonly stage?: Stage['kind'];
  readonly leaves: string;
  /** What leaves this station when the load moves one axis unit towards plus, without sign. */
  readonly perLoadUnit: Outcome<Exact>;
  /** Value at this station while the load is not commanded to move: the live zero of a scaled signal. Undefined: none. */
  readonly atZero?: Outcome<Exact>;
  /** Direction against the controller's: +1 the same, −1 opposite. The product of all inversions up to this station. */
  readonly sign: 1 | -1;
}
