import { ParameterStore } from '../devices/parameterStore.ts';
import { keptCells, RegisterCells, type DeviceMemory, type PlainCell } from '../devices/registerCells.ts';
import { readRegisterMap } from '../devices/registerMap.ts';
import { PlainPart } from '../devices/plainPart.ts';
import type { HostedDrive } from './axisHost.ts';

export const choiceHostMapPath = new URL('./choiceHost.csv', import.meta.url);

/** Outputs that pick a move, in the order of their bits. */
const choices = ['controller: choice 1', 'controller: choice 2'] as const;
/** s for which it keeps the start output on */
const startTime = 0.05;

/** A drive whose inputs pick its moves. */
export interface ChosenDrive extends HostedDrive {
  readonly isInPosition: boolean;
  readonly homed: boolean;
}

/** A small PLC that picks stored moves by its outputs, which change one after the other, and hears the alarm contact and two outputs. */
class ChoiceHost extends PlainPart {
  override readonly parameters: ParameterStore;
  readonly #drive: ChosenDrive;
  #pattern = 0;
  /** s until the next output may change, and for which the start output is still on. */
  #waits = 0;
  #starts = 0;

  constructor(drive: ChosenDrive, { kept }: DeviceMemory) {
    super();
    this.parameters = new ParameterStore(readRegisterMap(choiceHostMapPath).parameters, kept);
    this.#drive = drive;
    drive.terminals.outputs.set('controller: stop', true);
  }

  override mayWrite(): boolean {
    return true;
  }

  override advance(seconds: number): void {
    const { outputs } = this.#drive.terminals;
    this.#waits = Math.max(0, this.#waits - seconds);
    const wrong = choices.find((source, bit) => (outputs.get(source) ?? false) !== ((this.#pattern >> bit) & 1) > 0);
    if (wrong !== undefined && this.#waits === 0) {
      outputs.set(wrong, !(outputs.get(wrong) ?? false));
      this.#waits = this.parameters.value('outputSkew') / 1000;
    }
    if (this.#starts > 0 && wrong === undefined) {
      this.#starts = Math.max(0, this.#starts - seconds);
      outputs.set('controller: start', this.#starts > 0);
    }
  }

  cells(): Readonly<Record<string, PlainCell>> {
    const kept = keptCells();
    const { terminals } = this.#drive;
    const output = (source: string): PlainCell => ({
      read: () => (terminals.outputs.get(source) ? 1 : 0),
      write: (value) => (value === 0 || value === 1 ? (terminals.outputs.set(source, value === 1), true) : false),
    });
    return {
      servoOn: output('controller: servo on'),
      alarmReset: output('controller: alarm reset'),
      torqueChoice: output('controller: torque choice'),
      stopOutput: output('controller: stop'),
      pattern: kept('pattern', (value) => (value < 2 ** choices.length ? void (this.#pattern = value) : false)),
      start: kept('start', (value) => (value === 1 ? void (this.#starts = startTime) : false)),
      alarm: { read: () => (this.#drive.state === 'fault' || this.#drive.restarting ? 1 : 0) },
      inPosition: { read: () => (this.#drive.isInPosition ? 1 : 0) },
      homed: { read: () => (this.#drive.homed ? 1 : 0) },
    };
  }
}

/** The PLC behind its registers, wired to the choice inputs of a drive. */
export const makeChoiceHost = (drive: ChosenDrive, memory: DeviceMemory = {}): RegisterCells =>
  new RegisterCells({
    device: new ChoiceHost(drive, memory),
    map: readRegisterMap(choiceHostMapPath),
    memory,
    identity: { kind: 0x4804, firmware: 0x00010000 },
  });
