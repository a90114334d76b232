/** What a pattern of inputs picks. */
export const pickedKinds = [
  'nothing',
  'position',
  'distance',
  'speed',
  'motion plan',
  'push to torque',
  'fenced jog',
  'follow analog',
  'home',
] as const;
export type PickedKind = (typeof pickedKinds)[number];

/** One stored move. Quantities in axis units, /s, /s²; torque in % of rated. */
export interface PickedMove {
  /** Levels of the inputs, the first input first: `01` has the second one on. */
  readonly pattern: string;
  readonly kind: PickedKind;
  readonly name: string;
  /** Position to go to, distance to go, or the far end of a fenced jog; unused by the rest. */
  readonly target: number | undefined;
  /** The near end of a fenced jog. */
  readonly fence: number | undefined;
  readonly speed: number | undefined;
  readonly acceleration: number | undefined;
  readonly deceleration: number | undefined;
  readonly torqueLimit: number | undefined;
  readonly window: number | undefined;
}

/** When the drive takes what its inputs say. */
export type ChoiceTrigger =
  /** Every change counts at once. */
  | { readonly kind: 'direct' }
  /** A pattern counts when it has stood still for so many s. */
  | { readonly kind: 'debounced'; readonly time: number }
  /** The inputs are looked at so many s after the first change. */
  | { readonly kind: 'delayed'; readonly time: number };

/** What the edge of an input can do of itself. */
export const edgeActions = ['start the picked move', 'stop', 'home', 'clear the alarm', 'cancel what is left'] as const;
export type EdgeAction = (typeof edgeActions)[number];

export interface EdgeRule {
  readonly input: string;
  readonly edge: 'rising' | 'falling';
  readonly action: EdgeAction;
}

/** A drive whose inputs pick its moves. */
export interface ChoiceInputs {
  readonly inputs: readonly string[];
  readonly moves: readonly PickedMove[];
  readonly edges: readonly EdgeRule[];
  /** Torque limits in % of rated that further inputs pick, by their pattern. */
  readonly torqueLimits: readonly { readonly pattern: string; readonly limit: number }[];
  readonly trigger: ChoiceTrigger;
  /** s within which inputs that change together really change */
  readonly skew: number;
  readonly homing: 'never' | 'if not homed' | 'at every enable';
  /** The pattern that stands while the drive is enabled. */
  readonly patternAtEnable: string;
}

/** Every pattern in counting order, the first input as the lowest bit. */
export const patternsOf = (inputs: number): readonly string[] =>
  Array.from({ length: 2 ** inputs }, (_, code) =>
    Array.from({ length: inputs }, (_, bit) => ((code >> bit) & 1 ? '1' : '0')).join(''),
  );

const idle = (pattern: string): PickedMove => ({
  pattern,
  kind: 'nothing',
  name: '',
  target: undefined,
  fence: undefined,
  speed: undefined,
  acceleration: undefined,
  deceleration: undefined,
  torqueLimit: undefined,
  window: undefined,
});

/** The move of every pattern: a truth table without holes. */
export const truthTable = ({ inputs, moves }: Pick<ChoiceInputs, 'inputs' | 'moves'>): readonly PickedMove[] =>
  patternsOf(inputs.length).map((pattern) => moves.find((move) => move.pattern === pattern) ?? idle(pattern));

/** Patterns that may stand for a moment while inputs change one by one, without the first and the last. */
export function between(from: string, to: string): readonly string[] {
  const changing = [...from].flatMap((level, index) => (level === to[index] ? [] : [index]));
  return patternsOf(changing.length)
    .slice(1, -1)
    .map((mask) => {
      const levels = [...from];
      changing.forEach((index, k) => {
        if (mask[k] === '1') levels[index] = to[index] as string;
      });
      return levels.join('');
    });
}

/** s from the change of the inputs to the moment the drive takes the new pattern, at the latest. */
export function settlingTime({ trigger, skew }: Pick<ChoiceInputs, 'trigger' | 'skew'>): number {
  switch (trigger.kind) {
    case 'direct':
      return skew;
    case 'debounced':
      return skew + trigger.time;
    case 'delayed':
      return trigger.time;
  }
}

/** A move waits for an edge; the pattern only says which. */
export const startsOnEdge = ({ edges }: Pick<ChoiceInputs, 'edges'>): boolean =>
  edges.some(({ action }) => action === 'start the picked move');

/** Whether the drive may take a pattern that stands only while inputs change one by one. */
export const takesPassing = (choice: Pick<ChoiceInputs, 'trigger' | 'skew' | 'edges'>): boolean =>
  choice.skew > 0 && !startsOnEdge(choice) && (choice.trigger.kind === 'direct' || choice.trigger.time < choice.skew);

/** A move that starts while its inputs are still changing. */
export interface PassingMove {
  readonly from: string;
  readonly to: string;
  readonly through: PickedMove;
}

/** Moves that may start between two patterns, neither of which means them; one line for each pattern passed through. */
export function passingMoves(choice: ChoiceInputs): readonly PassingMove[] {
  if (!takesPassing(choice)) return [];
  const table = truthTable(choice);
  const used = table.filter(({ kind }) => kind !== 'nothing');
  const pick = new Map(table.map((move) => [move.pattern, move]));
  return used.flatMap((a) =>
    used.flatMap((b) =>
      a.pattern === b.pattern
        ? []
        : between(a.pattern, b.pattern).flatMap((pattern) => {
            const through = pick.get(pattern);
            return through && through.kind !== 'nothing' ? [{ from: a.pattern, to: b.pattern, through }] : [];
          }),
    ),
  );
}

/** What happens, in order, at the first enable after power on. */
export function firstEnable(choice: ChoiceInputs): readonly ('home' | PickedMove)[] {
  const move = truthTable(choice).find(({ pattern }) => pattern === choice.patternAtEnable);
  const starts = move && move.kind !== 'nothing' && !startsOnEdge(choice) ? [move] : [];
  // A home that is picked by the pattern itself is told once.
  return choice.homing === 'never' ? starts : ['home', ...starts.filter(({ kind }) => kind !== 'home')];
}
