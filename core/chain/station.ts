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
  /** What leaves it while the load is told nothing: the live zero of a scaled signal. Undefined: nothing. */
  readonly atZero?: Outcome<Exact>;
  /** +1: plus here is plus at the controller. The product of all inversions so far. */
  readonly sign: 1 | -1;
}
