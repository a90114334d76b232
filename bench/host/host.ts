import { countedForms } from '../devices/pulseInput.ts';
import { RegisterCells, type DeviceMemory, type PlainCell } from '../devices/registerCells.ts';
import { readRegisterMap } from '../devices/registerMap.ts';
import { PulseLine } from '../world/pulseLine.ts';
import { AxisHost, type HostedDrive } from './axisHost.ts';
import { PulseOutput } from './pulseOutput.ts';

export const hostMapPath = new URL('./host.csv', import.meta.url);

/** A host that sends pulses; it believes the axis to be where its pulses should have taken it. */
export class Host extends AxisHost {
  /** To the first drive, and to those that get the same pulses. */
  readonly line = new PulseLine();
  readonly #others: readonly PulseLine[];
  readonly #output = new PulseOutput();
  #isRateLimited = false;

  constructor(drives: readonly [HostedDrive, ...HostedDrive[]], memory: DeviceMemory) {
    super(hostMapPath, drives, memory);
    this.#others = drives.slice(1).map(() => new PulseLine());
  }

  /** Increments that it has sent since the start, plus less minus. */
  get sent(): number {
    return this.#output.sent;
  }
  get isRateLimited(): boolean {
    return this.#isRateLimited;
  }
  protected get stepsPerUnit(): number {
    return this.parameters.value('stepsPerUnit');
  }
  protected get counted(): number {
    return this.position;
  }

  protected possible(steps: number): number {
    const most = this.parameters.value('maximumRate');
    this.#isRateLimited = Math.abs(steps) > most;
    return Math.sign(steps) * Math.min(Math.abs(steps), most);
  }

  protected shifted(): void {
    // It has nothing but its own count.
  }

  protected send(increments: number): void {
    const form = countedForms[this.parameters.value('pulseForm')] ?? 'step and direction';
    const sense = this.parameters.value('directionInverted') === 1 ? -1 : 1;
    const levels = this.#output.send(form, sense * increments);
    this.drives.forEach(({ pulses }, k) => pulses.arrive((this.#others[k - 1] ?? this.line).carry(levels)));
  }

  cells(): Readonly<Record<string, PlainCell>> {
    return {
      ...this.hostCells(),
      incrementsSent: { read: () => this.sent },
      rateLimited: { read: () => (this.isRateLimited ? 1 : 0) },
    };
  }
}

/** The host behind its registers, wired to the pulse inputs of one drive, or of a pair. */
export const makeHost = (
  drives: HostedDrive | readonly [HostedDrive, ...HostedDrive[]],
  memory: DeviceMemory = {},
): RegisterCells<Host> =>
  new RegisterCells({
    device: new Host('pulses' in drives ? [drives] : drives, memory),
    map: readRegisterMap(hostMapPath),
    memory,
    identity: { kind: 0x4801, firmware: 0x00010001 },
  });
