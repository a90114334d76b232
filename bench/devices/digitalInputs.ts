/** An input terminal of a device. */
export interface InputTerminal {
  readonly name: string;
  /** +1: active while current flows; −1: active while none does. Applied here, once. */
  readonly polarity: () => 1 | -1;
  /** Scans that a level has to last before it counts. */
  readonly debounce?: () => number;
}

/** The input terminals of a device: raw levels, what they mean after polarity and debounce, and what is forced. */
export class DigitalInputs {
  readonly #terminals: readonly InputTerminal[];
  readonly #levels: boolean[];
  readonly #steadyFor: number[];
  readonly #active: boolean[];
  readonly #forced: (boolean | undefined)[];

  constructor(terminals: readonly InputTerminal[]) {
    this.#terminals = terminals;
    this.#levels = terminals.map(() => false);
    this.#steadyFor = terminals.map(() => Infinity);
    this.#active = terminals.map(() => false);
    this.#forced = terminals.map(() => undefined);
  }

  /** Looks at the terminals once. @param level the raw level of a terminal; undefined keeps what it was */
  scan(level: (terminal: string) => boolean): void {
    this.#terminals.forEach(({ name, polarity, debounce }, k) => {
      const now = level(name);
      this.#steadyFor[k] = now === this.#levels[k] ? (this.#steadyFor[k] ?? 0) + 1 : 0;
      this.#levels[k] = now;
      if ((this.#steadyFor[k] ?? 0) >= (debounce?.() ?? 0)) this.#active[k] = now === (polarity() === 1);
    });
  }

  /** Whether an input is active: forced, or by its level. */
  isActive(name: string): boolean {
    const k = this.#terminals.findIndex((terminal) => terminal.name === name);
    return this.#forced[k] ?? this.#active[k] ?? false;
  }

  /** Forces inputs by two masks, bit k for terminal k: which are forced, and to what. */
  force(mask: number, states: number): void {
    this.#terminals.forEach((_, k) => {
      this.#forced[k] = (mask >> k) & 1 ? ((states >> k) & 1) === 1 : undefined;
    });
  }

  /** Bits in the order of the terminals. */
  get levels(): number {
    return bits(this.#levels);
  }
  get active(): number {
    return bits(this.#terminals.map(({ name }) => this.isActive(name)));
  }
  get forced(): number {
    return bits(this.#forced.map((each) => each !== undefined));
  }
}

const bits = (of: readonly boolean[]): number => of.reduce((sum, is, k) => sum | (is ? 1 << k : 0), 0);
