import type { Exact } from '../../quantity/index.ts';
import { map, type Outcome } from '../../sheet/index.ts';

/** What every stage has. */
export interface StageBase {
  /** A plus turn at the input gives a minus turn (or travel) at the output. */
  readonly reverses: boolean;
  /** Power out over power in, above 0 up to 1. */
  readonly efficiency: Outcome<number>;
  /** kg·m² at the shaft that drives the stage; kg for a slide. */
  readonly inertia: Outcome<number>;
  /** The full difference at its output: degrees of a shaft, or the unit of the travel. */
  readonly backlash: Outcome<number>;
  /** rpm of the shaft that drives it, mm/s for a slide; undefined where none is given. */
  readonly speedLimit: number | undefined;
}

/** What a stage makes of a turn: another turn, travel along a line, or a volume; a slide is pushed without a turn. */
export type StageRole = 'turning' | 'travel' | 'dosing' | 'pushed';

/** What a kind of stage does to a turn. */
export interface StageMechanics<S> {
  readonly role: StageRole;
  /** Turns at the input for one turn at the output, positive. */
  readonly ratio: (stage: S) => Outcome<Exact>;
  /** Factors whose product is the travel in mm or mL for one turn; undefined when the stage gives turns out. */
  readonly travelFactors: (stage: S) => Outcome<readonly Exact[]> | undefined;
  /** Power out over power in while power flows from the load to the motor; absent: as forwards. */
  readonly backDriveEfficiency?: (stage: S) => Outcome<number>;
  /** Whether plus at its input is minus at its output; absent: what the stage says. */
  readonly reverses?: (stage: S) => boolean;
  /** rpm at which it whirls; absent: it does not. */
  readonly criticalSpeed?: (stage: S) => Outcome<number>;
  /** mm that it gives for each N; absent: it is stiff. */
  readonly compliance?: (stage: S) => Outcome<number>;
}

/**
 * With the friction angle ρ of a thread and its lead angle λ, η = tan λ / tan(λ + ρ) and η back = tan(λ − ρ) / tan λ, which
 * is near 2 − 1/η at the lead angles of screws (Roloff/Matek, Machine Elements, motion screws).
 */
export const slidingBackDrive = (efficiency: Outcome<number>): Outcome<number> =>
  map(efficiency, (forwards) => 2 - 1 / forwards);
