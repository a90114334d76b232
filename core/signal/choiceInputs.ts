/** What a pattern of inputs picks. */
export const pickedKinds = [
  'nothing',
  'position',
  'distance',
  'speed',
  'motion plan',
  'move until torque',
  'fenced jog',
  'follow analog',
  'home',
] as const;
export type PickedKind = (typeof pickedKinds)[number];

/** What a stored move may be keyed in with; which of it a kind has, {@link moveFields} says. */
export type MoveField = 'target' | 'fence' | 'speed' | 'acceleration' | 'deceleration' | 'torqueLimit' | 'window';

/** The quantities that each kind of move has. */
export const moveFields: Readonly<Record<PickedKind, readonly MoveField[]>> = {
  nothing: [],
  position: ['target', 'speed', 'acceleration', 'deceleration', 'torqueLimit', 'window'],
  distance: ['target', 'speed', 'acceleration', 'deceleration', 'torqueLimit', 'window'],
  speed: ['speed', 'acceleration', 'deceleration', 'torqueLimit'],
  'motion plan': ['torqueLimit', 'window'],
  'move until torque': ['speed', 'acceleration', 'torqueLimit'],
  'fenced jog': ['fence', 'target', 'speed', 'acceleration', 'torqueLimit'],
  'follow analog': ['speed', 'acceleration', 'torqueLimit'],
  home: [],
};

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
  /** Of a move that follows an analog signal. */
  readonly scale: AnalogScale | undefined;
  /** The input that must be on before it follows; empty: none. */
  readonly armingInput: string;
}

/** Two points of a signal and the position or speed that they mean; undefined where not filled in. */
export interface AnalogScale {
  readonly signalFrom: number | undefined;
  readonly valueFrom: number | undefined;
  readonly signalTo: number | undefined;
  readonly valueTo: number | undefined;
}

/** What a pattern that picks nothing does to a move that runs. */
export const nothingMeanings = ['not known', 'the move goes on', 'the axis stops'] as const;
export type NothingMeaning = (typeof nothingMeanings)[number];

/** What the edge of an input can do on its own. */
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
  /** s that a pattern must stand still before it counts; 0: every change counts at once */
  readonly minimumInputDuration: number;
  /** s from the first change until the inputs are looked at; 0: at once */
  readonly startDelay: number;
  readonly nothing: NothingMeaning;
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
  scale: undefined,
  armingInput: '',
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

type Timing = Pick<ChoiceInputs, 'minimumInputDuration' | 'startDelay' | 'skew'>;

/** s from the change of the inputs to the moment the drive takes the new pattern, at the latest. */
export const settlingTime = ({ minimumInputDuration, startDelay, skew }: Timing): number =>
  Math.max(startDelay, skew + minimumInputDuration);

/** A move waits for an edge; the pattern only says which. */
export const startsOnEdge = ({ edges }: Pick<ChoiceInputs, 'edges'>): boolean =>
  edges.some(({ action }) => action === 'start the picked move');

/** Whether the drive may take a pattern that stands only while inputs change one by one. */
export const takesPassing = (choice: Timing & Pick<ChoiceInputs, 'edges'>): boolean =>
  choice.skew > 0 &&
  !startsOnEdge(choice) &&
  choice.minimumInputDuration < choice.skew &&
  choice.startDelay < choice.skew;

/** A move that starts while its inputs are still changing. */
export interface PassingMove {
  readonly from: string;
  readonly to: string;
  readonly through: PickedMove;
}

/**
 * Moves that may start between two patterns, neither of which means them; one line for each pattern passed through. The patterns
 * that moves have are gone between, and so is the one in which no input is on, where a controller rests.
 */
export function passingMoves(choice: ChoiceInputs): readonly PassingMove[] {
  if (!takesPassing(choice)) return [];
  const table = truthTable(choice);
  const rests = [
    '0'.repeat(choice.inputs.length),
    choice.patternAtEnable,
    ...choice.moves.map(({ pattern }) => pattern),
  ];
  const used = table.filter(({ kind, pattern }) => kind !== 'nothing' || rests.includes(pattern));
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
  // Homing that the pattern itself selects is listed once.
  return choice.homing === 'never' ? starts : ['home', ...starts.filter(({ kind }) => kind !== 'home')];
}
