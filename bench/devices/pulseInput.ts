/** How a drive counts what stands on its two pulse lines. */
export const countedForms = ['step and direction', 'clockwise and counter-clockwise', 'quadrature'] as const;
export type CountedForm = (typeof countedForms)[number];

/** Bits of the two lines at one moment: 1 the first, 2 the second. */
export type Lines = number;

/** Where quadrature stands in its cycle, by the levels of its two lines: 00, first, both, second. */
const place: readonly number[] = [0, 1, 3, 2];

/**
 * The pulse input of a drive. Levels arrive step by step in a queue, because controller and drive let their time pass one after the
 * other; the drive takes one entry a step of its own. Without power nobody counts.
 */
export class PulseInput {
  #queue: (Uint8Array | undefined)[] = [];
  #lines: Lines = 0;
  /** Increments counted since power came. */
  counted = 0;

  /** What stood on the lines during one step, in order; undefined: nothing changed. */
  arrive(levels: Uint8Array | undefined): void {
    this.#queue.push(levels);
    // A drive that takes nothing, because it restarts, misses what comes.
    if (this.#queue.length > 8000) this.#queue.shift();
  }

  discard(): void {
    this.#queue = [];
  }

  /** @returns the increments of one step of the drive. */
  take(form: CountedForm): number {
    const levels = this.#queue.shift();
    if (!levels) return 0;
    let increments = 0;
    for (const next of levels) {
      increments += increment(form, this.#lines, next);
      this.#lines = next;
    }
    this.counted += increments;
    return increments;
  }
}

/** What one change of the lines counts; rising edges count, but in quadrature every edge. */
function increment(form: CountedForm, before: Lines, after: Lines): number {
  const rises = after & ~before;
  switch (form) {
    case 'step and direction':
      return rises & 1 ? (after & 2 ? 1 : -1) : 0;
    case 'clockwise and counter-clockwise':
      return (rises & 1 ? 1 : 0) - (rises & 2 ? 1 : 0);
    case 'quadrature': {
      const turned = ((place[after & 3] ?? 0) - (place[before & 3] ?? 0) + 4) % 4;
      return turned === 1 ? 1 : turned === 3 ? -1 : 0;
    }
  }
}
