import type { Lines } from '../devices/pulseInput.ts';

/** What can be wrong with the two lines of a pulse command. */
export interface PulseTrouble {
  /** Lines without a connection, by their bit: 1 the first, 2 the second; they stay low at the drive. */
  broken: Lines;
  /** The two lines are exchanged. */
  isSwapped: boolean;
  /** Of so many pulses on the first line one is lost; 0: none. */
  losesOneOf: number;
  /** The same, doubled by noise. */
  doublesOneOf: number;
}

/** The two wires from a pulse output to a pulse input. */
export class PulseLine {
  readonly trouble: PulseTrouble = { broken: 0, isSwapped: false, losesOneOf: 0, doublesOneOf: 0 };
  #pulses = 0;
  #before: Lines = 0;

  /** @returns what arrives at the drive of what the controller drove, in order. */
  carry(levels: Uint8Array | undefined): Uint8Array | undefined {
    if (!levels) return undefined;
    const { broken, isSwapped, losesOneOf, doublesOneOf } = this.trouble;
    const arrived: Lines[] = [];
    for (const level of levels) {
      const rises = (level & ~this.#before & 1) !== 0;
      this.#before = level;
      if (rises) this.#pulses++;
      const isLost = rises && losesOneOf > 0 && this.#pulses % losesOneOf === 0;
      const at = (lines: Lines) => (isSwapped ? ((lines & 1) << 1) | (lines >> 1) : lines) & ~broken;
      arrived.push(at(isLost ? level & ~1 : level));
      if (rises && doublesOneOf > 0 && this.#pulses % doublesOneOf === 0) arrived.push(at(level & ~1), at(level));
    }
    return Uint8Array.from(arrived);
  }
}
