import { commandedState, type DeviceState } from '@kavrid/core/drive';
import { traceChannelCount } from '@kavrid/core/drive';
import { captureDepth, CaptureMemory, capturePage, captureTriggers } from './captureMemory.ts';
import { ParameterStore, type StoredCopy } from './parameterStore.ts';
import type { BenchDevice, PlainCell } from './registerCells.ts';
import { keptCells } from './registerCells.ts';
import type { DeviceParameter } from './registerMap.ts';
import { TraceMemory } from './traceMemory.ts';

/** Faults that a drive remembers. */
const pastFaultCount = 8;

/** s from the order to restart until the device answers again */
const restartTime = 0.8;

/**
 * What the drives of the bench have in common: the state machine of CiA 402, parameters, a trace, a restart. Time passes only by
 * {@link advance}; nothing here knows of sockets.
 */
export abstract class Cia402Drive implements BenchDevice {
  readonly parameters: ParameterStore;
  readonly trace = new TraceMemory();
  readonly capture = new CaptureMemory();
  readonly stepRate: number;
  /** Steps of the trace period. */
  traceSteps: number;
  #error = 0;
  /** Codes of the last faults, the newest first; a restart keeps them. */
  #pastFaults: readonly number[] = [];
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

  get error(): number {
    return this.#error;
  }
  set error(code: number) {
    if (code !== 0 && code !== this.#error) this.#pastFaults = [code, ...this.#pastFaults].slice(0, pastFaultCount);
    this.#error = code;
  }

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
    const isTraced = this.trace.running && this.#step % this.traceSteps === 0;
    const isCaptured = this.capture.isDue();
    if (!isTraced && !isCaptured) return;
    const sample = this.sample();
    if (isTraced) this.trace.record(sample);
    if (isCaptured) this.capture.record(sample);
  }

  #finishRestart(): void {
    this.#restartIn = 0;
    this.parameters.restart();
    this.parametersChanged();
    this.current = 'switch on disabled';
    this.error = 0;
    this.restarted();
  }

  /** A motion begins. */
  protected markMotion(): void {
    this.trace.mark();
    this.capture.mark();
  }

  /** Registers of the recording in the drive’s own memory. */
  #captureCells(): Readonly<Record<string, PlainCell>> {
    const { capture } = this;
    const { settings } = capture;
    const set = (read: () => number, least: number, most: number, write: (value: number) => void): PlainCell => ({
      read,
      write: (value) => {
        if (capture.isRecording || value < least || value > most) return false;
        write(value);
        return true;
      },
    });
    const channel = (k: 0 | 1 | 2 | 3) =>
      set(
        () => settings.channels[k],
        0,
        traceChannelCount - 1,
        (value) => void (settings.channels[k] = value),
      );
    return {
      captureChannel1: channel(0),
      captureChannel2: channel(1),
      captureChannel3: channel(2),
      captureChannel4: channel(3),
      capturePeriod: set(
        () => settings.period,
        1,
        65_535,
        (value) => void (settings.period = value),
      ),
      captureTrigger: set(
        () => captureTriggers.indexOf(settings.trigger),
        0,
        captureTriggers.length - 1,
        (value) => void (settings.trigger = captureTriggers[value] ?? 'none'),
      ),
      captureTriggerChannel: set(
        () => settings.triggerChannel,
        0,
        traceChannelCount - 1,
        (value) => void (settings.triggerChannel = value),
      ),
      captureTriggerLevel: set(
        () => settings.level,
        -(2 ** 31),
        2 ** 31,
        (value) => void (settings.level = value),
      ),
      capturePreTrigger: set(
        () => settings.before,
        0,
        captureDepth - 1,
        (value) => void (settings.before = value),
      ),
      captureRun: {
        read: () => (capture.isRecording ? 1 : 0),
        write: (value) => {
          if (value !== 0 && value !== 1) return false;
          if (value === 1) capture.start();
          else capture.stop();
          return true;
        },
      },
      captureState: { read: () => capture.state },
      captureCount: { read: () => capture.count },
      captureTriggerSample: { read: () => capture.triggerSample },
      capturePage: {
        read: () => capture.page,
        write: (value) => {
          if (value >= captureDepth / capturePage) return false;
          capture.page = value;
          return true;
        },
      },
    };
  }

  /** Registers that every drive has alike. */
  protected driveCells(): Readonly<Record<string, PlainCell>> {
    const kept = keptCells();
    return {
      ...this.#captureCells(),
      controlword: kept('controlword', (word) => void this.control(word)),
      tracePeriod: kept('tracePeriod', (steps) => {
        if (steps < 1) return false;
        this.traceSteps = steps;
        return true;
      }),
      statusword: { read: () => this.statusword },
      errorCode: { read: () => this.error },
      ...Object.fromEntries(
        Array.from({ length: pastFaultCount }, (_, k) => [
          `pastFault${k + 1}`,
          { read: () => this.#pastFaults[k] ?? 0 },
        ]),
      ),
    };
  }
}
