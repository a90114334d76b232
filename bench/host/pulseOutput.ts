import type { CountedForm, Lines } from '../devices/pulseInput.ts';

/** Levels of the two lines along the cycle of quadrature; the first leads towards plus. */
const cycle: readonly Lines[] = [0, 1, 3, 2];

/** The pulse output of a controller: turns whole increments into what stands on its two lines. */
export class PulseOutput {
  #lines: Lines = 0;
  #place = 0;
  /** Increments sent since the start. */
  sent = 0;

  /** @returns the levels of the lines in order, or undefined where nothing changes; direction is high for plus. */
  send(form: CountedForm, increments: number): Uint8Array | undefined {
    if (increments === 0) return undefined;
    this.sent += increments;
    const isPlus = increments > 0;
    const levels: Lines[] = [];
    for (let k = Math.abs(increments); k > 0; k--) {
      switch (form) {
        case 'step and direction': {
          const direction = isPlus ? 2 : 0;
          if ((this.#lines & 2) !== direction) levels.push(direction);
          levels.push(direction | 1, direction);
          break;
        }
        case 'clockwise and counter-clockwise':
          levels.push(isPlus ? 1 : 2, 0);
          break;
        case 'quadrature':
          this.#place = (this.#place + (isPlus ? 1 : 3)) % 4;
          levels.push(cycle[this.#place] ?? 0);
      }
      this.#lines = levels.at(-1) ?? this.#lines;
    }
    return Uint8Array.from(levels);
  }
}
