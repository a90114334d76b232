import type { DriveLink } from '../link/driveLink.ts';

/** Samples the trace memory of a drive holds; more than these between two reads are lost. */
const depth = 3072;
const mostAtOnce = 70;
const channelCount = 8;

/** Takes the samples out of a drive's trace memory while it fills. */
export class TraceCapture {
  readonly #samples: number[][] = [];
  readonly #link: DriveLink;
  readonly #periodSteps: number;
  #trigger: number | undefined;
  #draining = false;

  private constructor(link: DriveLink, periodSteps: number) {
    this.#link = link;
    this.#periodSteps = periodSteps;
  }

  /** @param periodSteps sample period in the drive's own steps */
  static async start(link: DriveLink, periodSteps: number): Promise<TraceCapture> {
    await link.write('tracePeriod', periodSteps);
    await link.write('traceRun', 1);
    return new TraceCapture(link, periodSteps);
  }

  /** Whether samples up to the head are still in the drive only. */
  isBehind(head: number): boolean {
    return this.#samples.length < head;
  }

  /** Takes what is new, at most as much as leaves time for the next heartbeat. */
  async drain(head: number, trigger: number): Promise<void> {
    if (trigger !== 0xffffffff) this.#trigger = trigger;
    if (this.#draining) return;
    this.#draining = true;
    try {
      const missing = head - this.#samples.length;
      if (missing > depth) throw new Error('the trace was overwritten before it was read');
      if (missing > 0)
        this.#samples.push(
          ...(await this.#link.readTrace(this.#samples.length, Math.min(missing, mostAtOnce), channelCount, depth)),
        );
    } finally {
      this.#draining = false;
    }
  }

  /** The samples from the trigger on, raw, and their period in s. */
  finish(): { readonly period: number; readonly samples: readonly (readonly number[])[] } {
    const scale = this.#link.profile.registers.tracePeriod?.scale ?? 0.000125;
    return { period: this.#periodSteps * scale, samples: this.#samples.slice(Math.max(0, this.#trigger ?? 0)) };
  }
}
