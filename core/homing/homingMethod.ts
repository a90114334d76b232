/**
 * What tells one homing method from another. The search looks for a switch; the axis then leaves the switch at creep speed in the
 * direction `leave`, coming from rest, and its edge there counts, or the first index pulse beyond it.
 */
export interface HomingMethodFacts {
  readonly name: string;
  readonly when: string;
  /** Nothing moves for `none`: the position is set where the axis stands. */
  readonly homesOn: 'minusLimit' | 'plusLimit' | 'homeSwitch' | 'none';
  /** Direction of the search while the switch is off. A home switch that is not met before the limit is searched back. */
  readonly search: -1 | 1;
  readonly leave: -1 | 1;
  readonly usesIndex: boolean;
}

/**
 * Homing methods by their number in CiA 402 / IEC 61800-7-201; a row is all that a method is. The texts are ours; the directions
 * are those of the standard's drawings, from memory.
 */
export const homingMethods = {
  1: {
    name: 'Minus limit, then index pulse',
    when: 'Needs no home switch, and the index pulse makes the home position repeat to a few counts.',
    homesOn: 'minusLimit',
    search: -1,
    leave: 1,
    usesIndex: true,
  },
  2: {
    name: 'Plus limit, then index pulse',
    when: 'As method 1, at the plus end.',
    homesOn: 'plusLimit',
    search: 1,
    leave: -1,
    usesIndex: true,
  },
  7: {
    name: 'Home switch, lower edge, then index pulse',
    when: 'For a home switch within the travel. The search goes in the plus direction and reverses at the plus limit if the switch was not found.',
    homesOn: 'homeSwitch',
    search: 1,
    leave: -1,
    usesIndex: true,
  },
  17: {
    name: 'Minus limit',
    when: 'For a motor without an index pulse, or a load that may slip on the motor shaft; repeats as well as the switch does.',
    homesOn: 'minusLimit',
    search: -1,
    leave: 1,
    usesIndex: false,
  },
  18: {
    name: 'Plus limit',
    when: 'As method 17, at the plus end.',
    homesOn: 'plusLimit',
    search: 1,
    leave: -1,
    usesIndex: false,
  },
  37: {
    name: 'Current position',
    when: 'The present position becomes home, set by a fixture or a mark; nothing moves.',
    homesOn: 'none',
    search: 1,
    leave: 1,
    usesIndex: false,
  },
} as const satisfies Record<number, HomingMethodFacts>;

export type HomingMethod = keyof typeof homingMethods;

/** In ascending order. */
export const homingMethodNumbers = Object.keys(homingMethods).map(Number) as readonly HomingMethod[];

/** @throws RangeError for a number that is not one of the methods. */
export function homingMethodFacts(method: HomingMethod): HomingMethodFacts {
  if (!Object.hasOwn(homingMethods, method)) throw new RangeError(`Homing method ${String(method)} is not known.`);
  return homingMethods[method];
}

/** Speeds positive, in units/s; acceleration in units/s²; all in one unit of length, counts or axis units. */
export interface HomingDefinition {
  readonly method: HomingMethod;
  readonly searchSpeed: number;
  readonly creepSpeed: number;
  readonly acceleration: number;
  /** What the position reads at the latched point. */
  readonly homeOffset: number;
}
