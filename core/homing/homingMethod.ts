/** An input that a homing looks at. */
export type HomingInput = 'minusLimit' | 'plusLimit' | 'homeSwitch';

/** Over which part of the travel a home switch is on: a flag somewhere in it, or everything from its edge to one end. */
export type HomeRange = 'flag' | 'to the plus end' | 'to the minus end';

interface Named {
  readonly name: string;
  readonly when: string;
}

/** What tells one homing method from another: −1 is towards minus, 1 towards plus. */
export type HomingMethodFacts =
  /**
   * The edge of a switch counts, or an index pulse beyond it. The search runs in the direction `search` while the switch is off; the
   * edge at the end `edge` of the range in which the switch is on is then crossed at creep speed, from rest, in the direction `cross`.
   */
  | (Named & {
      readonly kind: 'edge';
      readonly input: HomingInput;
      readonly range: HomeRange;
      readonly search: -1 | 1;
      readonly edge: -1 | 1;
      readonly cross: -1 | 1;
      readonly usesIndex: boolean;
    })
  /** The next index pulse in a direction counts. */
  | (Named & { readonly kind: 'index'; readonly search: -1 | 1; readonly usesIndex: true })
  /** The axis runs against a hard stop with little torque; where it stands counts, or an index pulse on the way back. */
  | (Named & { readonly kind: 'hard stop'; readonly search: -1 | 1; readonly usesIndex: boolean })
  /** Nothing moves: the position is set where the axis stands. */
  | (Named & { readonly kind: 'here'; readonly usesIndex: false });

type EdgeFacts = Extract<HomingMethodFacts, { readonly kind: 'edge' }>;
type Edge = Omit<EdgeFacts, 'name' | 'when' | 'kind' | 'usesIndex'>;

const minusLimit = { input: 'minusLimit', range: 'to the minus end', search: -1, edge: 1, cross: 1 } as const;
const plusLimit = { input: 'plusLimit', range: 'to the plus end', search: 1, edge: -1, cross: -1 } as const;
const positive = { input: 'homeSwitch', range: 'to the plus end', search: 1, edge: -1 } as const;
const negative = { input: 'homeSwitch', range: 'to the minus end', search: -1, edge: 1 } as const;
const flag = { input: 'homeSwitch', range: 'flag' } as const;

/** The edges of methods 1 to 14, which 17 to 30 share; from memory of the drawings of IEC 61800-7-201. */
const edges = {
  1: minusLimit,
  2: plusLimit,
  3: { ...positive, cross: -1 },
  4: { ...positive, cross: 1 },
  5: { ...negative, cross: 1 },
  6: { ...negative, cross: -1 },
  7: { ...flag, search: 1, edge: -1, cross: -1 },
  8: { ...flag, search: 1, edge: -1, cross: 1 },
  9: { ...flag, search: 1, edge: 1, cross: -1 },
  10: { ...flag, search: 1, edge: 1, cross: 1 },
  11: { ...flag, search: -1, edge: 1, cross: 1 },
  12: { ...flag, search: -1, edge: 1, cross: -1 },
  13: { ...flag, search: -1, edge: -1, cross: 1 },
  14: { ...flag, search: -1, edge: -1, cross: -1 },
} as const satisfies Record<number, Edge>;

const towards = (direction: -1 | 1): string => (direction < 0 ? 'minus' : 'plus');

const rangeNames: Readonly<Record<HomeRange, (edge: -1 | 1) => string>> = {
  flag: (edge) => `home switch, ${towards(edge)} edge`,
  'to the plus end': () => 'home switch on up to the plus end',
  'to the minus end': () => 'home switch on up to the minus end',
};
const switchNames: Readonly<Record<HomingInput, (edge: Edge) => string>> = {
  minusLimit: () => 'minus limit',
  plusLimit: () => 'plus limit',
  homeSwitch: ({ range, edge }) => rangeNames[range](edge),
};

/** Whether the switch is on before its edge is crossed. */
export const leavesSwitch = ({ edge, cross }: Pick<EdgeFacts, 'edge' | 'cross'>): boolean => edge === cross;

function edgeMethod<U extends boolean>(edge: Edge, usesIndex: U): EdgeFacts & { readonly usesIndex: U } {
  const on = switchNames[edge.input](edge);
  const isHome = edge.input === 'homeSwitch';
  const how = leavesSwitch(edge) ? 'leaving' : 'entering';
  return {
    ...edge,
    kind: 'edge',
    usesIndex,
    name: `${on.charAt(0).toUpperCase()}${on.slice(1)}${isHome ? `, ${how} towards ${towards(edge.cross)}` : ''}${usesIndex ? ', then index pulse' : ''}`,
    when: [
      edge.input === 'homeSwitch'
        ? edge.range === 'flag'
          ? `For a short home switch within the travel. The search begins towards ${towards(edge.search)} and turns round at the limit.`
          : `For one long cam: the state of the switch tells on which side the axis is, so that no limit is touched.`
        : `Needs no home switch; the ${towards(edge.search)} limit is struck at every homing.`,
      usesIndex
        ? 'The index pulse makes home repeat to a few counts, as long as it is not next to the edge.'
        : 'For a motor without an index pulse, or a load that may slip on the motor shaft; repeats as well as the switch does.',
    ].join(' '),
  };
}

const numbers = [1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14] as const;
type EdgeNumber = (typeof numbers)[number];
/** Methods 17 to 30 are 1 to 14 without index pulse. */
const withoutIndex = 16;

const indexMethod = (search: -1 | 1): HomingMethodFacts => ({
  kind: 'index',
  search,
  usesIndex: true,
  name: `Next index pulse towards ${towards(search)}`,
  when: 'For an axis within one motor turn of home, or an endless one whose load turns as often as its motor.',
});

const hardStop = (search: -1 | 1, usesIndex: boolean): HomingMethodFacts => ({
  kind: 'hard stop',
  search,
  usesIndex,
  name: `${search < 0 ? 'Minus' : 'Plus'} hard stop${usesIndex ? ', then index pulse' : ''}`,
  when: `Needs no switch. The mechanics are pressed with the homing torque at every homing${usesIndex ? '; the index pulse makes home repeat to a few counts' : '; repeats as well as the stop and the torque do'}.`,
});

/** Standard methods that are not edges, and the hard stop, which has no number in the standard. */
const others = {
  33: indexMethod(-1),
  34: indexMethod(1),
  37: {
    kind: 'here',
    usesIndex: false,
    name: 'Current position',
    when: 'The present position becomes home, set by a fixture or a mark; nothing moves. Number 35 is its older name.',
  },
  minusStop: hardStop(-1, false),
  plusStop: hardStop(1, false),
  minusStopIndex: hardStop(-1, true),
  plusStopIndex: hardStop(1, true),
} as const satisfies Record<number | string, HomingMethodFacts>;

/** Methods without index pulse, by the number that they have with one. */
type Without = {
  1: 17;
  2: 18;
  3: 19;
  4: 20;
  5: 21;
  6: 22;
  7: 23;
  8: 24;
  9: 25;
  10: 26;
  11: 27;
  12: 28;
  13: 29;
  14: 30;
};
type StandardNumber = EdgeNumber | Without[EdgeNumber] | 33 | 34 | 37;
type HardStop = 'minusStop' | 'plusStop' | 'minusStopIndex' | 'plusStopIndex';
/** The number of a method in CiA 402 / IEC 61800-7-201, or the name of one that has none. */
export type HomingMethod = StandardNumber | HardStop;

const facts: ReadonlyMap<HomingMethod, HomingMethodFacts> = new Map<HomingMethod, HomingMethodFacts>([
  ...numbers.map((number) => [number, edgeMethod(edges[number], true)] as const),
  ...numbers.map((number) => [(number + withoutIndex) as StandardNumber, edgeMethod(edges[number], false)] as const),
  ...([33, 34, 37, 'minusStop', 'plusStop', 'minusStopIndex', 'plusStopIndex'] as const).map(
    (method) => [method, others[method]] as const,
  ),
]);

/** All methods: those of the standard in ascending order, then the others. */
export const homingMethods: readonly HomingMethod[] = [...facts.keys()];

/** @throws RangeError for what is not one of the methods. */
export function homingMethodFacts(method: HomingMethod): HomingMethodFacts {
  const found = facts.get(method);
  if (!found) throw new RangeError(`Homing method ${String(method)} is not known.`);
  return found;
}

export const isHomingMethod = (method: unknown): method is HomingMethod => facts.has(method as HomingMethod);

/** “17 · Minus limit”: a method with its number, where it has one. */
export const homingMethodLabel = (method: HomingMethod): string => {
  const { name } = homingMethodFacts(method);
  return typeof method === 'number' ? `${method} · ${name}` : name;
};

/** Speeds positive, in units/s; acceleration in units/s²; all in one unit of length, counts or axis units. */
export interface HomingDefinition {
  readonly method: HomingMethod;
  readonly searchSpeed: number;
  readonly creepSpeed: number;
  readonly acceleration: number;
  /** What the position reads at the latched point. */
  readonly positionAtHome: number;
  /** Which index pulse counts, where one does: 1 is the first. */
  readonly indexPulse?: number;
  /** The longest way of one leg without what it looks for; absent: no limit. */
  readonly mostTravel?: number;
  /** s in which it has to come to its end; absent: no limit. */
  readonly mostSeconds?: number;
}
