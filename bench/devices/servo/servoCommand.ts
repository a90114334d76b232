import type { ParameterStore } from '../parameterStore.ts';
import { countedForms, PulseInput } from '../pulseInput.ts';
import type { CommandedBy, ServoMechanics } from './servoMechanics.ts';
import type { ServoModes } from './servoModes.ts';
import { ServoSignals } from './servoSignals.ts';
import type { ServoTerminals } from './servoTerminals.ts';

/** Where a servo drive's command can come from, by the number that is keyed in. */
const commandSources = [
  'pulse input',
  'field bus',
  'analog speed',
  'analog torque',
  'PWM speed',
  'PWM torque',
  'stored moves',
] as const;
export type CommandSource = (typeof commandSources)[number];

const commandedBy: Readonly<Record<CommandSource, CommandedBy>> = {
  'pulse input': 'position',
  'field bus': 'position',
  'analog speed': 'speed',
  'analog torque': 'torque',
  'PWM speed': 'speed',
  'PWM torque': 'torque',
  'stored moves': 'position',
};

const radiansPerRpm = Math.PI / 30;

/** What the drive follows, and what it asks of the motor in a step. */
export class ServoCommand {
  readonly pulses = new PulseInput();
  readonly signals: ServoSignals;
  readonly #mechanics: ServoMechanics;
  readonly #terminals: ServoTerminals;
  readonly #parameters: ParameterStore;
  readonly #modes: ServoModes;
  readonly #stepRate: number;
  readonly #begins: () => void;

  /** @param begins called when a motion begins */
  constructor(
    drive: {
      readonly mechanics: ServoMechanics;
      readonly terminals: ServoTerminals;
      readonly parameters: ParameterStore;
      readonly stepRate: number;
    },
    modes: ServoModes,
    begins: () => void,
  ) {
    this.#mechanics = drive.mechanics;
    this.#terminals = drive.terminals;
    this.#parameters = drive.parameters;
    this.#stepRate = drive.stepRate;
    this.#modes = modes;
    this.#begins = begins;
    this.signals = new ServoSignals(drive.parameters, drive.stepRate);
  }

  get source(): CommandSource {
    return commandSources[this.#parameters.value('commandSource')] ?? 'pulse input';
  }
  get isByBus(): boolean {
    return this.source === 'field bus';
  }
  get commandedBy(): CommandedBy {
    return commandedBy[this.source];
  }

  /** The duty cycle that it follows has gone, and it is set to trip then. */
  get isSignalLost(): boolean {
    const isPwm = this.source === 'PWM speed' || this.source === 'PWM torque';
    return isPwm && this.signals.pwm.duty === undefined && this.#parameters.value('signalLossTrips') === 1;
  }

  /** What the motor is to do in this step: increments, rad/s or N·m, as its source commands it. */
  demand(isRunning: boolean): number {
    const mechanics = this.#mechanics;
    const { signals, source } = this;
    const pulses = this.pulses.take(countedForms[this.#parameters.value('pulseForm')] ?? 'step and direction');
    signals.step();
    switch (source) {
      case 'pulse input':
        return this.#followed(pulses, isRunning);
      case 'field bus':
      case 'stored moves':
        return mechanics.servo.enabled ? mechanics.sense * this.#modes.advance(1 / this.#stepRate) : 0;
      case 'analog speed':
        return this.#followed(signals.analogSpeed * radiansPerRpm, isRunning);
      case 'PWM speed':
        return this.#followed(signals.pwmCommand * radiansPerRpm, isRunning);
      case 'analog torque':
        return this.#followed((signals.analogTorque / 100) * mechanics.world.ratedTorque, isRunning);
      case 'PWM torque':
        return this.#followed((signals.pwmCommand / 100) * mechanics.world.ratedTorque, isRunning);
    }
  }

  /** A command from outside is followed as soon as the motor is on, whatever it is then; not into a limit that is active. */
  #followed(command: number, isRunning: boolean): number {
    if (!isRunning) return 0;
    if (command !== 0) this.#begins();
    return this.#terminals.blocks(command) ? 0 : this.#mechanics.sense * command;
  }
}
