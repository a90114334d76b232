import { commandedState, type DeviceState } from '@kavrid/core/drive';
import { ParameterStore, type StoredCopy } from './parameterStore.ts';
import type { BenchDevice, PlainCell } from './registerCells.ts';
import { keptCells } from './registerCells.ts';
import type { DeviceParameter } from './registerMap.ts';
import { TraceMemory } from './traceMemory.ts';

/** s from the order to restart until the device answers again */
const restartTime = 0.8;

/**
 * What the drives of the bench have in common: the state machine of CiA 402, parameters, a trace, a restart. Time passes only by
 * {@link advance}; nothing here knows of sockets.
 */
export abstract class Cia402Drive implements BenchDevice {
  readonly parameters: ParameterStore;
  readonly trace = new TraceMemory();
  readonly stepRate: number;
  /** Steps of the trace period. */
  traceSteps: number;
  error = 0;
  protected current: DeviceState = 'switch on disabled';
  #controlword = 0;
  #restartIn = 0;
  #step = 0;

  constructor(
    parameters: readonly DeviceParameter[],
    kept: StoredCopy | undefined,
    rates: { readonly stepRate: number; readonly traceSteps: number },
  ) {
    this.parameters = new ParameterStore(parameters, kept);
    this.stepRate = rates.stepRate;
    this.traceSteps = rates.traceSteps;
  }

  abstract get statusword(): number;
  abstract get isRunning(): boolean;
  abstract parametersChanged(): void;
  abstract mayWrite(key: string): boolean;
  abstract cells(): Readonly<Record<string, PlainCell>>;
  /** Whether a controlword may switch the motor on. */
  protected abstract get mayRun(): boolean;
  /** Goes to the state that a controlword, or the end of a fault, asks for. */
  protected abstract goTo(next: DeviceState): void;
  /** A controlword that changes no state. */
  protected abstract commanded(word: number, before: number): void;
  /** The cause of a fault is taken away. */
  protected abstract clearFault(): void;
  protected abstract restarted(): void;
  protected abstract step(step: number): void;
  /** The channels of the trace now. */
  protected abstract sample(): readonly number[];

  get state(): DeviceState {
    return this.current;
  }

  get restarting(): boolean {
    return this.#restartIn > 0;
  }

  /** Object 0x6040. */
  control(word: number): void {
    const before = this.#controlword;
    this.#controlword = word;
    this.wordArrived(word);
    const next = commandedState(this.current, word, before, this.mayRun);
    if (next === this.current) return this.commanded(word, before);
    if (this.current !== 'fault') return this.goTo(next);
    this.error = 0;
    this.clearFault();
    this.current = next;
  }

  /** Bits of a controlword that only this kind of drive has. */
  protected wordArrived(_word: number): void {}

  /** @returns false while it runs: a restart with a turning motor is refused. */
  restart(): boolean {
    if (this.isRunning) return false;
    this.#restartIn = restartTime;
    return true;
  }

  advance(seconds: number): void {
    if (this.#restartIn > 0) {
      this.#restartIn -= seconds;
      if (this.#restartIn <= 0) this.#finishRestart();
      return;
    }
    for (let steps = Math.round(seconds * this.stepRate); steps > 0; steps--) this.stepOnce();
  }

  /** One step of the plant; the trace takes its sample. */
  protected stepOnce(): void {
    this.#step++;
    this.step(this.#step);
    if (this.trace.running && this.#step % this.traceSteps === 0) this.trace.record(this.sample());
  }

  #finishRestart(): void {
    this.#restartIn = 0;
    this.parameters.restart();
    this.parametersChanged();
    this.current = 'switch on disabled';
    this.error = 0;
    this.restarted();
  }

  /** Registers that every drive has alike. */
  protected driveCells(): Readonly<Record<string, PlainCell>> {
    const kept = keptCells();
    return {
      controlword: kept('controlword', (word) => void this.control(word)),
      tracePeriod: kept('tracePeriod', (steps) => {
        if (steps < 1) return false;
        this.traceSteps = steps;
        return true;
      }),
      statusword: { read: () => this.statusword },
      errorCode: { read: () => this.error },
    };
  }
}
