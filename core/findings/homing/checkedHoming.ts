import type { PairInput } from '../../chain/index.ts';
import type { HomingDefinition, HomingMethodFacts, HomingPrediction, HomingWorld } from '../../homing/index.ts';
import type { Exact } from '../../quantity/index.ts';
import type { Finding } from '../finding.ts';

/** An encoder that keeps its position without power. */
export interface AbsoluteEncoder {
  /** Motor turns that it tells apart, and the lowest that it reads. */
  readonly turns: number;
  readonly lowest: number;
  /** Motor turns that it reads where home is; undefined: not entered. */
  readonly turnsAtHome: number | undefined;
  readonly hasBattery: boolean;
  /** Load turns, exactly, after which an endless axis has used up all its turns; undefined: not endless, or not known. */
  readonly loadTurns: Exact | undefined;
}

/** What the checks of a homing look at; lengths in axis units. */
export interface CheckedHoming {
  readonly by: 'drive' | 'controller';
  readonly facts: HomingMethodFacts;
  readonly definition: HomingDefinition;
  readonly world: Omit<HomingWorld, 'start' | 'indexAt'>;
  /** Where an index pulse comes; undefined: not entered. */
  readonly indexAt: number | undefined;
  /** The longest of all starts, or one that fails. */
  readonly longest: HomingPrediction;
  readonly travel: number;
  readonly isEndless: boolean;
  readonly isSuspended: boolean;
  readonly softLimits: { readonly minus: number | null; readonly plus: number | null };
  /** % of rated torque: what friction and gravity take, and what homing may have; undefined: not known, not set. */
  readonly neededTorque: number | undefined;
  readonly torqueLimit: number | undefined;
  /** Counts of a motor turn; undefined: not known. */
  readonly countsPerTurn: number | undefined;
  readonly pair: { readonly squaring: PairInput['squaring']; readonly squaringOffset: number | undefined } | undefined;
  /** How the home switch is wired; undefined: not settled. */
  readonly homeContact: 'normallyClosed' | 'normallyOpen' | undefined;
  /** At which end the switch stands that the drive’s plus limit input sees. */
  readonly plusInputAt: 'plus' | 'minus' | 'not settled';
  /** An encoder that keeps its position without power; undefined: it does not. */
  readonly absolute: AbsoluteEncoder | undefined;
  /** By its map; undefined: there is none. */
  readonly drive:
    | {
        readonly hasMethod: boolean;
        readonly hasInput: (input: 'minusLimit' | 'plusLimit' | 'homeSwitch') => boolean;
        readonly saysOffset: boolean;
        readonly saysSoftLimits: boolean;
      }
    | undefined;
  readonly quantity: (value: number, template: string) => string;
}

export type HomingFinding = Finding<'homing'>;
export type HomingCheck = (homing: CheckedHoming) => readonly HomingFinding[];

/** Units in which the axis stops from a speed, from the edge on: delays, lag and ramp. */
export function stoppingDistance({ definition, world }: CheckedHoming, speed: number): number {
  const { scanPeriod, debounce = 0, lag = 0 } = world;
  return speed * (scanPeriod + debounce + lag) + speed ** 2 / (2 * definition.acceleration);
}
