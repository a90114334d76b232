import { AnalogLine } from '../../world/analogLine.ts';
import { PwmLine } from '../../world/pwmLine.ts';
import type { ParameterStore } from '../parameterStore.ts';
import { scaledRaw } from '../scaledRaw.ts';

/** V at the ends of the analog input, and the steps of its converter of 14 bits. */
const fullVolts = 10;
const converterStep = (2 * fullVolts) / 2 ** 14;

/** The analog and the PWM input of the servo drive, and what it makes of them. */
export class ServoSignals {
  readonly analog = new AnalogLine();
  readonly pwm = new PwmLine();
  readonly #parameters: ParameterStore;
  readonly #dt: number;
  #filtered = 0;

  constructor(parameters: ParameterStore, stepRate: number) {
    this.#parameters = parameters;
    this.#dt = 1 / stepRate;
  }

  /** V as converted. */
  get volts(): number {
    return Math.round(this.analog.volts / converterStep) * converterStep;
  }

  /** One step of the input filter. */
  step(): void {
    const time = this.#parameters.value('signalFilter') / 1000;
    const share = 1 - Math.exp(-this.#dt / Math.max(time, 1e-9));
    this.#filtered += share * (this.volts - this.#filtered);
  }

  /** Share of full signal after offset and deadband, −1 to 1 and a little more. */
  get #share(): number {
    const value = (key: string) => this.#parameters.value(key);
    const above = this.#filtered - value('signalOffset');
    const used = Math.abs(above) <= value('signalDeadband') ? 0 : above;
    return ((value('signalInverted') === 1 ? -1 : 1) * used) / fullVolts;
  }

  /** rpm that the analog signal asks for, and % of rated torque. */
  get analogSpeed(): number {
    return this.#share * this.#parameters.value('signalFullValue');
  }
  get analogTorque(): number {
    return this.#share * this.#parameters.value('signalFullTorque');
  }
  /** The same of the duty cycle, by the raw scale; 0 without a signal. */
  get pwmCommand(): number {
    return this.pwm.duty === undefined ? 0 : scaledRaw(this.pwm.duty, this.#parameters).command;
  }
}
