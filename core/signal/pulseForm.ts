/** How increments travel on two lines. */
export const pulseForms = ['stepDirection', 'clockwisePulses', 'quadrature'] as const;
export type PulseForm = (typeof pulseForms)[number];

/** What a form is called in a sentence, and in a drive's choices. */
export const formWords: Readonly<Record<PulseForm, string>> = {
  stepDirection: 'step and direction',
  clockwisePulses: 'clockwise and counter-clockwise pulses',
  quadrature: 'quadrature',
};

/** The two lines by their names, in the order in which they are wired. */
export const lineNames: Readonly<Record<PulseForm, readonly [string, string]>> = {
  stepDirection: ['pulse', 'direction'],
  clockwisePulses: ['plus pulses', 'minus pulses'],
  quadrature: ['phase A', 'phase B'],
};

/** Logical levels of the two lines at one moment. */
export type LineLevels = readonly [boolean, boolean];

/** Phase A leads phase B towards plus. */
const quadratureCycle: readonly LineLevels[] = [
  [false, false],
  [true, false],
  [true, true],
  [false, true],
];

/**
 * What stands on the lines, step by step, while increments are sent one after the other; direction is high for plus.
 * @param increments whole; minus for the other way; at most 10⁶ of them
 * @throws RangeError for more, or for a number that is not whole.
 */
export function levelsOf(form: PulseForm, increments: number): readonly LineLevels[] {
  const plus = increments > 0;
  const count = Math.abs(increments);
  if (!Number.isInteger(increments) || count > 1e6)
    throw new RangeError(`At most 1 000 000 whole increments can be written out, not ${increments}.`);
  switch (form) {
    case 'stepDirection': {
      const states: LineLevels[] = [
        [false, !plus],
        [false, plus],
      ];
      for (let k = 0; k < count; k++) states.push([true, plus], [false, plus]);
      return states;
    }
    case 'clockwisePulses': {
      const states: LineLevels[] = [[false, false]];
      for (let k = 0; k < count; k++) states.push([plus, !plus], [false, false]);
      return states;
    }
    case 'quadrature': {
      const states: LineLevels[] = [];
      for (let k = 0; k <= count; k++) states.push(quadratureCycle[(((plus ? k : -k) % 4) + 4) % 4] ?? [false, false]);
      return states;
    }
  }
}

/** The increments that a drive set to a form counts in what stands on its lines; rising edges count. */
export function countedBy(form: PulseForm, states: readonly LineLevels[]): number {
  let count = 0;
  for (let k = 1; k < states.length; k++) {
    const [before, after] = [states[k - 1] as LineLevels, states[k] as LineLevels];
    const rises = (line: 0 | 1) => !before[line] && after[line];
    switch (form) {
      case 'stepDirection':
        if (rises(0)) count += after[1] ? 1 : -1;
        break;
      case 'clockwisePulses':
        count += Number(rises(0)) - Number(rises(1));
        break;
      case 'quadrature': {
        const place = (levels: LineLevels) => quadratureCycle.findIndex(([a, b]) => a === levels[0] && b === levels[1]);
        const turned = (place(after) - place(before) + 4) % 4;
        count += turned === 1 ? 1 : turned === 3 ? -1 : 0;
      }
    }
  }
  return count;
}

/** What an axis does when its drive is set to another form than the controller sends. */
export interface FormMismatch {
  /** Increments counted for each one sent towards plus, and for each one sent towards minus (−1 would be right). */
  readonly forPlus: number;
  readonly forMinus: number;
  readonly words: string;
}

/** @returns undefined when both ends speak the same form. */
export function formMismatch(sent: PulseForm, taken: PulseForm): FormMismatch | undefined {
  if (sent === taken) return undefined;
  const many = 400;
  // Single counts at a change of direction are left out: they do not add up.
  const share = (increments: number) => Math.round((countedBy(taken, levelsOf(sent, increments)) / many) * 20) / 20;
  const [forPlus, forMinus] = [share(many), share(-many)];
  return { forPlus, forMinus, words: `${wordsFor('plus', forPlus)}, ${wordsFor('minus', forMinus)}` };
}

function wordsFor(command: 'plus' | 'minus', counted: number): string {
  const wanted = command === 'plus' ? 1 : -1;
  const start = command === 'plus' ? 'a plus command' : 'a minus command';
  if (counted === 0) return `${start} makes it vibrate without turning, or do nothing`;
  const way = counted * wanted > 0 ? 'the right way' : 'the wrong way';
  const size = Math.abs(counted);
  return `${start} moves it ${way}${size === 1 ? '' : `, ${size} of the distance`}`;
}
