import { leavesSwitch, type HomingInput, type HomingMethodFacts } from '@kavrid/core/homing';
import { countedForms } from '../devices/pulseInput.ts';
import { RegisterCells, type DeviceMemory, type PlainCell } from '../devices/registerCells.ts';
import { readRegisterMap } from '../devices/registerMap.ts';
import { PulseLine } from '../world/pulseLine.ts';
import { AxisHost, hostStep, type HostedDrive } from './axisHost.ts';
import { PulseOutput } from './pulseOutput.ts';
import { Squaring } from './squaring.ts';

export const hostMapPath = new URL('./host.csv', import.meta.url);

/** A host that sends pulses; it believes the axis to be where its pulses should have taken it. */
export class Host extends AxisHost {
  /** To the first drive, and to those that get the same pulses. */
  readonly line = new PulseLine();
  readonly #others: readonly PulseLine[];
  readonly #output = new PulseOutput();
  readonly #otherOutputs: readonly PulseOutput[];
  #squaring: Squaring | undefined;
  /** Part of a step that the second side alone has still to go. */
  #owed = 0;
  #skew = 0;
  #hasSkewTripped = false;
  #isRateLimited = false;

  constructor(drives: readonly [HostedDrive, ...HostedDrive[]], memory: DeviceMemory) {
    super(hostMapPath, drives, memory);
    this.#others = drives.slice(1).map(() => new PulseLine());
    this.#otherOutputs = this.#others.map(() => new PulseOutput());
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
    const alone = this.#squaringIncrements();
    this.drives.forEach(({ pulses }, k) => {
      const line = this.#others[k - 1] ?? this.line;
      const levels = (this.#otherOutputs[k - 1] ?? this.#output).send(
        form,
        sense * (increments + (k === 1 ? alone : 0)),
      );
      pulses.arrive(line.carry(levels));
    });
  }

  protected override get isSquaring(): boolean {
    return this.#squaring !== undefined;
  }

  /** Whole increments that the second side alone gets in this step. */
  #squaringIncrements(): number {
    if (!this.#squaring) return 0;
    this.#owed += this.#squaring.step(hostStep);
    const whole = Math.round(this.#owed);
    this.#owed -= whole;
    return whole;
  }

  /** The switch of a side by the input that the method homes on. */
  #secondIsOn(input: HomingInput): boolean {
    const terminals = this.drives[1]?.terminals;
    // Limits are normally closed.
    if (input === 'homeSwitch') return terminals?.drives('home switch') === true;
    return terminals?.drives(input === 'minusLimit' ? 'minus limit switch' : 'plus limit switch') === false;
  }

  protected override beginSquaring(facts: HomingMethodFacts, beyond: number): boolean {
    if (!this.drives[1] || facts.kind !== 'edge' || facts.usesIndex || !leavesSwitch(facts)) return false;
    this.#skew = 0;
    this.#hasSkewTripped = false;
    this.#owed = 0;
    this.#input = facts.input;
    this.#cross = facts.cross;
    this.#squaring = new Squaring({
      cross: facts.cross,
      creep: this.parameters.value('homingCreepSpeed') * this.stepsPerUnit,
      beyond: beyond - this.parameters.value('squaringOffset') * this.stepsPerUnit,
      limit: this.parameters.value('skewLimit') * this.stepsPerUnit,
      isOn: this.#secondIsOn(facts.input),
    });
    return true;
  }
  #input: HomingInput = 'minusLimit';
  #cross: 1 | -1 = 1;

  protected override squareScan(): boolean | undefined {
    const squaring = this.#squaring;
    if (!squaring) return undefined;
    if (this.inputs.isActive('alarm')) return this.#endSquaring(squaring, false);
    const ahead = squaring.phase === 'onto' ? -this.#cross : this.#cross;
    squaring.look({
      isOn: this.#secondIsOn(this.#input),
      isAtLimit: this.#secondIsOn(ahead < 0 ? 'minusLimit' : 'plusLimit'),
    });
    switch (squaring.phase) {
      case 'square':
        return this.#endSquaring(squaring, true);
      case 'failed':
        // More skew than the mechanics bear: neither side may move on.
        this.#hasSkewTripped = true;
        for (const { terminals } of this.drives) terminals.outputs.set('controller: servo on', false);
        return this.#endSquaring(squaring, false);
      default:
        return undefined;
    }
  }

  #endSquaring(squaring: Squaring, isSquare: boolean): boolean {
    this.#skew = squaring.skew;
    this.#squaring = undefined;
    return isSquare;
  }

  override stop(): boolean {
    this.#squaring = undefined;
    return super.stop();
  }

  cells(): Readonly<Record<string, PlainCell>> {
    return {
      ...this.hostCells(),
      incrementsSent: { read: () => this.sent },
      skew: { read: () => Math.round((1000 * this.#skew) / this.stepsPerUnit) },
      skewTripped: { read: () => (this.#hasSkewTripped ? 1 : 0) },
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
