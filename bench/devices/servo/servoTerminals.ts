import { Wiring, type Wire } from '../../world/wiring.ts';
import { DigitalInputs } from '../digitalInputs.ts';
import type { ParameterStore } from '../parameterStore.ts';
import type { ServoMechanics } from './servoMechanics.ts';

/** Inputs that pick and start stored moves. */
const choiceTerminals = ['choice 1', 'choice 2', 'start', 'stop', 'torque choice'] as const;

/**
 * How the terminals of the drive are wired where nobody has changed it: normally closed limits, a normally open home flag, both
 * channels of safe torque off and the permit through the machine's relays, servo on, alarm reset and the choice of stored moves from
 * the controller; and the coil of the brake at the drive's own output.
 */
const servoWires: readonly Wire[] = [
  { terminal: 'minus limit', source: 'minus limit switch' },
  { terminal: 'plus limit', source: 'plus limit switch' },
  { terminal: 'home', source: 'home switch' },
  { terminal: 'permit', source: 'permit relay' },
  { terminal: 'servo on', source: 'controller: servo on' },
  { terminal: 'alarm reset', source: 'controller: alarm reset' },
  { terminal: 'safe torque off 1', source: 'stop relay' },
  { terminal: 'safe torque off 2', source: 'stop relay' },
  ...choiceTerminals.map((terminal) => ({ terminal, source: `controller: ${terminal}` })),
  { terminal: 'brake coil', source: 'drive: brake release' },
];

/** The terminals of the servo drive, and what is at the other ends of their wires. */
export class ServoTerminals {
  readonly wiring: Wiring;
  readonly inputs: DigitalInputs;
  /** What the controller drives, by source; it is off where there is none. */
  readonly outputs = new Map<string, boolean>();
  /** Switches that a hand, or a metal tool, holds tripped; by source. */
  readonly tripped = new Set<string>();
  readonly #mechanics: ServoMechanics;
  /** A hand has unplugged the coil of the brake, or feeds it from a supply of its own. */
  brakeHand: 'unplugged' | 'fed' | undefined;
  /** What inputs are forced to, once they are. */
  forcedStates = 0;

  constructor(mechanics: ServoMechanics, parameters: ParameterStore) {
    this.#mechanics = mechanics;
    this.wiring = new Wiring(servoWires, (source) => this.drives(source));
    const byLevel = (key: string) => () => (parameters.value(key) === 1 ? 1 : -1);
    const high = () => 1 as const;
    const debounce = () => parameters.value('inputDebounce');
    this.inputs = new DigitalInputs([
      { name: 'minus limit', polarity: byLevel('limitActiveLevel'), debounce },
      { name: 'plus limit', polarity: byLevel('limitActiveLevel'), debounce },
      { name: 'home', polarity: high, debounce },
      { name: 'permit', polarity: byLevel('enableActiveLevel') },
      { name: 'servo on', polarity: high },
      { name: 'alarm reset', polarity: high },
      { name: 'safe torque off 1', polarity: high },
      { name: 'safe torque off 2', polarity: high },
      ...choiceTerminals.map((name) => ({ name, polarity: high })),
    ]);
    this.scan();
  }

  /** What is at the other end of a wire: closed contacts and outputs that are on carry current. */
  drives(source: string): boolean {
    const { isAtMinusLimit, isAtPlusLimit, isOnHomeFlag } = this.#mechanics;
    const isTripped = this.tripped.has(source);
    switch (source) {
      case 'minus limit switch':
        return !isAtMinusLimit && !isTripped;
      case 'plus limit switch':
        return !isAtPlusLimit && !isTripped;
      case 'home switch':
        return isOnHomeFlag || isTripped;
      case 'permit relay':
        return true;
      case 'stop relay':
        return !isTripped;
      default:
        return this.outputs.get(source) ?? false;
    }
  }

  scan(): void {
    this.inputs.scan((terminal) => this.wiring.level(terminal));
  }

  /** The drive's own output for the brake, and whether its current reaches the coil. */
  get releasesBrake(): boolean {
    return this.outputs.get('drive: brake release') ?? false;
  }
  set releasesBrake(isReleased: boolean) {
    this.outputs.set('drive: brake release', isReleased);
  }
  get isBrakeFed(): boolean {
    return this.brakeHand === undefined ? this.wiring.level('brake coil') : this.brakeHand === 'fed';
  }

  get hasTorque(): boolean {
    return this.inputs.isActive('safe torque off 1') && this.inputs.isActive('safe torque off 2');
  }
  /** Whether the motor may be switched on at all; forced inputs and motion exclude each other. */
  get permitsMotor(): boolean {
    return this.inputs.isActive('permit') && this.hasTorque && this.inputs.forced === 0;
  }
  /** Bit 0 minus limit, bit 1 plus limit. */
  get limits(): number {
    return (this.inputs.isActive('minus limit') ? 1 : 0) | (this.inputs.isActive('plus limit') ? 2 : 0);
  }
  /** Object 0x60FD: the limits, and bit 2 the home switch. */
  get digitalInputs(): number {
    return this.limits | (this.inputs.isActive('home') ? 4 : 0);
  }
  /** Whether a limit is active in the direction of a motion. */
  blocks(motion: number): boolean {
    return (motion < 0 && this.inputs.isActive('minus limit')) || (motion > 0 && this.inputs.isActive('plus limit'));
  }
}
