/** Samples that it holds, of so many channels. */
export const captureDepth = 131_072;
export const captureChannels = 4;
/** Samples that can be read at a time, on the page that is chosen. */
export const capturePage = 512;

/** What it waits for, by the number that is keyed in. */
export const captureTriggers = ['none', 'above', 'below', 'rising', 'falling', 'start of move'] as const;
type CaptureTrigger = (typeof captureTriggers)[number];

export const captureStates = { idle: 0, waiting: 1, triggered: 2, complete: 3 } as const;

/** How it is to record; indices are those of the drive's channels. */
export interface CaptureSettings {
  /** Steps of the drive from sample to sample. */
  period: number;
  channels: [number, number, number, number];
  trigger: CaptureTrigger;
  triggerChannel: number;
  level: number;
  /** Samples to keep from before the trigger. */
  before: number;
}

/** A recording of four chosen channels that begins before its trigger and ends when the memory is full. */
export class CaptureMemory {
  readonly settings: CaptureSettings = {
    period: 1,
    channels: [0, 1, 4, 5],
    trigger: 'none',
    triggerChannel: 0,
    level: 0,
    before: 0,
  };
  readonly #ring = new Int32Array(captureDepth * captureChannels);
  #state: number = captureStates.idle;
  #steps = 0;
  /** Samples taken since the start, and the one at the trigger. */
  #taken = 0;
  #triggeredAt = 0;
  #last: number | undefined;
  page = 0;

  get state(): number {
    return this.#state;
  }
  get isRecording(): boolean {
    return this.#state === captureStates.waiting || this.#state === captureStates.triggered;
  }
  /** Samples that are kept. */
  get count(): number {
    return Math.min(this.#taken - this.#first, captureDepth);
  }
  /** The one at the trigger, among those that are kept. */
  get triggerSample(): number {
    return this.#triggeredAt - this.#first;
  }
  /** The first that is kept. */
  get #first(): number {
    return this.#state === captureStates.waiting
      ? Math.max(0, this.#taken - this.settings.before)
      : Math.max(0, this.#triggeredAt - this.settings.before);
  }

  start(): void {
    this.#state = this.settings.trigger === 'none' ? captureStates.triggered : captureStates.waiting;
    this.#steps = 0;
    this.#taken = 0;
    this.#triggeredAt = 0;
    this.#last = undefined;
  }

  stop(): void {
    if (this.isRecording) this.#state = captureStates.complete;
  }

  /** Whether a step is one that it takes. */
  isDue(): boolean {
    return this.isRecording && this.#steps++ % this.settings.period === 0;
  }

  /** A motion begins. */
  mark(): void {
    if (this.settings.trigger === 'start of move') this.#begin();
  }

  /** @param sample all channels of the drive */
  record(sample: readonly number[]): void {
    const { channels, triggerChannel, before } = this.settings;
    if (
      this.#state === captureStates.waiting &&
      this.#taken >= before &&
      this.#isTriggered(sample[triggerChannel] ?? 0)
    )
      this.#begin();
    this.#last = sample[triggerChannel] ?? 0;
    const base = (this.#taken % captureDepth) * captureChannels;
    channels.forEach((channel, k) => (this.#ring[base + k] = sample[channel] ?? 0));
    this.#taken++;
    if (this.#state === captureStates.triggered && this.#taken - this.#first >= captureDepth)
      this.#state = captureStates.complete;
  }

  #begin(): void {
    if (this.#state !== captureStates.waiting) return;
    this.#state = captureStates.triggered;
    this.#triggeredAt = this.#taken;
  }

  #isTriggered(now: number): boolean {
    const { trigger, level } = this.settings;
    const last = this.#last;
    switch (trigger) {
      case 'above':
        return now > level;
      case 'below':
        return now < level;
      case 'rising':
        return last !== undefined && last <= level && now > level;
      case 'falling':
        return last !== undefined && last >= level && now < level;
      case 'none':
      case 'start of move':
        return false;
    }
  }

  /** One 16-bit word of the chosen page, high word first; 0 beyond what has been recorded. */
  word(offset: number): number {
    const place = this.page * capturePage + Math.floor(offset / (2 * captureChannels));
    if (place >= this.count) return 0;
    const at = ((this.#first + place) % captureDepth) * captureChannels + ((offset >> 1) % captureChannels);
    const value = this.#ring[at] ?? 0;
    return offset % 2 === 0 ? (value >> 16) & 0xffff : value & 0xffff;
  }
}
