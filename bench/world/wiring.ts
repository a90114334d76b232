/** What can be wrong with a wire; inverted: a contact of the other kind, or an output that is on when it should be off. */
export type WireFault = 'broken' | 'shorted to 0 V' | 'shorted to 24 V' | 'inverted';

/** A wire from what drives it to the terminal of a device. */
export interface Wire {
  readonly terminal: string;
  readonly source: string;
}

/** The wires between switches, controller and terminals. A level is true while current flows. */
export class Wiring {
  readonly #sources: Map<string, string>;
  readonly #faults = new Map<string, WireFault>();

  /** @param levelOf what a source drives now */
  constructor(
    wires: readonly Wire[],
    readonly levelOf: (source: string) => boolean,
  ) {
    this.#sources = new Map(wires.map(({ terminal, source }) => [terminal, source]));
  }

  /** @returns the level at a terminal; false where nothing is wired to it. */
  level(terminal: string): boolean {
    switch (this.#faults.get(terminal)) {
      case 'broken':
      case 'shorted to 0 V':
        return false;
      case 'shorted to 24 V':
        return true;
      case 'inverted':
        return !this.#driven(terminal);
      case undefined:
        return this.#driven(terminal);
    }
  }

  #driven(terminal: string): boolean {
    const source = this.#sources.get(terminal);
    return source !== undefined && this.levelOf(source);
  }

  setFault(terminal: string, fault: WireFault | undefined): void {
    if (fault === undefined) this.#faults.delete(terminal);
    else this.#faults.set(terminal, fault);
  }

  /** Exchanges the two wires at their terminals; done twice, they are as before. */
  swap(a: string, b: string): void {
    const [atA, atB] = [this.#sources.get(a), this.#sources.get(b)];
    if (atB === undefined) this.#sources.delete(a);
    else this.#sources.set(a, atB);
    if (atA === undefined) this.#sources.delete(b);
    else this.#sources.set(b, atA);
  }
}
