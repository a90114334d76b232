import { traceChannels, type Trace, type TraceChannel } from '@kavrid/contract';
import type { DriveLink } from '../link/driveLink.ts';
import type { AxisScaling } from './axisScaling.ts';

/** Samples the trace memory of a drive holds; more than these between two reads are lost. */
const depth = 3072;
const mostAtOnce = 70;
const channelCount = traceChannels.length;

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

  /** The trace from the trigger on, in axis units; with a short run-in when there is one. */
  finish(scaling: AxisScaling): Trace {
    const scale = this.#link.profile.registers.tracePeriod?.scale ?? 0.000125;
    const from = Math.max(0, this.#trigger ?? 0);
    const factors: Readonly<Record<TraceChannel, number>> = {
      demandPosition: scaling.unitsPerCount,
      actualPosition: scaling.unitsPerCount,
      demandSpeed: scaling.unitsPerCount,
      actualSpeed: scaling.unitsPerCount,
      followingError: scaling.unitsPerCount,
      torque: 0.1 * scaling.sign,
      inputs: 1,
      statusword: 1,
    };
    const samples = this.#samples.slice(from);
    const channel = (name: TraceChannel) => {
      const index = traceChannels.indexOf(name);
      return samples.map((sample) => Math.round((sample[index] ?? 0) * factors[name] * 1e5) / 1e5);
    };
    const channels = {
      demandPosition: channel('demandPosition'),
      actualPosition: channel('actualPosition'),
      demandSpeed: channel('demandSpeed'),
      actualSpeed: channel('actualSpeed'),
      followingError: channel('followingError'),
      torque: channel('torque'),
      inputs: channel('inputs'),
      statusword: channel('statusword'),
    };
    return { period: this.#periodSteps * scale, channels };
  }
}
