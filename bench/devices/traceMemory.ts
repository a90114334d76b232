import { traceChannelCount, traceDepth } from '@kavrid/core/drive';

/** A ring of samples that a client reads while it fills. */
export class TraceMemory {
  readonly #ring = new Int32Array(traceDepth * traceChannelCount);
  running = false;
  /** Samples taken since the start. */
  head = 0;
  /** Sample at which the first motion began, or undefined. */
  trigger: number | undefined;

  start(): void {
    this.running = true;
    this.head = 0;
    this.trigger = undefined;
  }

  record(channels: readonly number[]): void {
    const base = (this.head % traceDepth) * traceChannelCount;
    for (let k = 0; k < traceChannelCount; k++) this.#ring[base + k] = channels[k] ?? 0;
    this.head++;
  }

  /** Marks the present sample as the trigger unless there is one already. */
  mark(): void {
    if (this.running && this.trigger === undefined) this.trigger = this.head;
  }

  /** One 16-bit word of the ring, high word first. */
  word(offset: number): number {
    const value = this.#ring[offset >> 1] ?? 0;
    return offset % 2 === 0 ? (value >> 16) & 0xffff : value & 0xffff;
  }
}
