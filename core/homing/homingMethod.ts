/** Homing methods by their number in CiA 402 / IEC 61800-7-201. */
export type HomingMethod = 1 | 17 | 37;

export interface HomingMethodFacts {
  readonly method: HomingMethod;
  readonly name: string;
  readonly usesIndex: boolean;
  readonly moves: boolean;
  readonly when: string;
}

export const homingMethods: readonly HomingMethodFacts[] = [
  {
    method: 1,
    name: 'Minus limit, then index pulse',
    usesIndex: true,
    moves: true,
    when: 'The limit switch is there anyway and the index pulse makes the position repeat to a few counts.',
  },
  {
    method: 17,
    name: 'Minus limit',
    usesIndex: false,
    moves: true,
    when: 'No index pulse, or a load that may slip on the motor shaft; repeats as well as the switch does.',
  },
  {
    method: 37,
    name: 'Where it stands',
    usesIndex: false,
    moves: false,
    when: 'A fixture or a mark sets the position; nothing moves.',
  },
];

/** @throws RangeError for a number that is not one of the methods. */
export function homingMethodFacts(method: HomingMethod): HomingMethodFacts {
  const facts = homingMethods.find((each) => each.method === method);
  if (!facts) throw new RangeError(`Homing method ${String(method)} is not known.`);
  return facts;
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
