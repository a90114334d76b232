import type { ParameterStore } from '../parameterStore.ts';
import type { ServoMechanics } from './servoMechanics.ts';
import type { ServoModes } from './servoModes.ts';
import type { ServoTerminals } from './servoTerminals.ts';

/** What a stored move does, by the number that is keyed in; the same words stand in the register map. */
const kinds = ['nothing', 'position', 'distance', 'speed', 'move until torque', 'home'] as const;
type StoredKind = (typeof kinds)[number];

const homingAtEnable = { never: 0, ifNotHomed: 1, always: 2 } as const;
const moveStart = { edge: 0, newPattern: 1 } as const;
const nothingMeans = { goesOn: 0, stops: 1 } as const;

/** Moves kept in the drive, picked by its choice inputs. Counts, counts/s; called once a millisecond. */
export class StoredMoves {
  readonly #modes: ServoModes;
  readonly #mechanics: ServoMechanics;
  readonly #terminals: ServoTerminals;
  readonly #parameters: ParameterStore;
  #wasEnabled = false;
  /** Pattern at the inputs, how long it has stood, and how long ago the first of its changes came; ms. */
  #raw = 0;
  #steadyFor = 0;
  #changedFor = 0;
  /** The pattern that counts. */
  #taken = 0;
  /** ms for which the start input has been on. */
  #startFor = 0;
  #stop = false;
  #runs: StoredKind = 'nothing';

  constructor(modes: ServoModes, mechanics: ServoMechanics, terminals: ServoTerminals, parameters: ParameterStore) {
    this.#modes = modes;
    this.#mechanics = mechanics;
    this.#terminals = terminals;
    this.#parameters = parameters;
  }

  /** The pattern that counts: the first input as the lowest bit. */
  get pattern(): number {
    return this.#taken;
  }

  /** Its inputs pick moves no longer. */
  leave(): void {
    this.#wasEnabled = false;
    this.#runs = 'nothing';
    this.#mechanics.limitMove(Infinity);
  }

  scan(isEnabled: boolean): void {
    const isNew = this.#lookAtPattern();
    const [starts, stops] = this.#lookAtEdges();
    const justEnabled = isEnabled && !this.#wasEnabled;
    this.#wasEnabled = isEnabled;
    if (!isEnabled) {
      this.#runs = 'nothing';
      return;
    }
    this.#limitTorque();
    if (justEnabled) return this.#atEnable();
    if (stops) return this.#halt();
    const byEdge = this.#value('moveStart') === moveStart.edge;
    if (this.#terminals.inputs.isActive('stop') && (byEdge ? starts : isNew)) this.#run(this.#taken);
    else this.#endAtTorque();
  }

  #value(key: string): number {
    return this.#parameters.value(key);
  }

  /** @returns whether another pattern counts from now on. */
  #lookAtPattern(): boolean {
    const { inputs } = this.#terminals;
    const raw = (inputs.isActive('choice 1') ? 1 : 0) | (inputs.isActive('choice 2') ? 2 : 0);
    if (raw !== this.#raw && this.#raw === this.#taken) this.#changedFor = 0;
    this.#steadyFor = raw === this.#raw ? this.#steadyFor + 1 : 0;
    this.#changedFor++;
    this.#raw = raw;
    if (raw === this.#taken) return false;
    if (this.#steadyFor < this.#value('minimumInputDuration') || this.#changedFor < this.#value('startDelay'))
      return false;
    this.#taken = raw;
    return true;
  }

  /**
   * The start input has to stand as long as a pattern, so that both may change together.
   * @returns whether the start input has come on, and whether the stop input has gone off
   */
  #lookAtEdges(): readonly [boolean, boolean] {
    const { inputs } = this.#terminals;
    const [start, stop] = [inputs.isActive('start'), inputs.isActive('stop')];
    this.#startFor = start ? this.#startFor + 1 : 0;
    const isStarted = this.#startFor === 1 + this.#value('minimumInputDuration');
    const edges = [isStarted, !stop && this.#stop] as const;
    this.#stop = stop;
    return edges;
  }

  #atEnable(): void {
    const homing = this.#value('homingAtEnable');
    if (homing === homingAtEnable.always || (homing === homingAtEnable.ifNotHomed && !this.#modes.homed)) this.#home();
  }

  #home(): void {
    this.#runs = 'home';
    this.#modes.home();
  }

  #halt(): void {
    this.#runs = 'nothing';
    this.#modes.halt();
  }

  #limitTorque(): void {
    const choice = this.#value(this.#terminals.inputs.isActive('torque choice') ? 'torqueChoice1' : 'torqueChoice0');
    const move = this.#runs === 'nothing' ? Infinity : this.#value(`move${this.#taken}TorqueLimit`);
    this.#mechanics.limitMove(Math.min(choice, move) / 100);
  }

  /** A move under way is given up for the next, which begins at its own acceleration once the axis stands. */
  #run(pattern: number): void {
    const value = (field: string) => this.#value(`move${pattern}${field}`);
    const kind = kinds[value('Kind')] ?? 'nothing';
    const { target } = this.#modes;
    const perCount = 1 / this.#mechanics.countsPerIncrement;
    if (kind !== 'nothing' && kind !== 'home') {
      target.acceleration = value('Acceleration') * perCount;
      target.deceleration = value('Deceleration') * perCount;
      target.jerk = 0;
      target.speed = Math.abs(value('Speed')) * perCount;
    }
    switch (kind) {
      case 'nothing':
        if (this.#value('nothingMeans') === nothingMeans.stops) this.#halt();
        return;
      case 'position':
        // Before homing nobody knows where a position is.
        if (this.#modes.homed && this.#modes.moveTo(value('Target'))) this.#runs = kind;
        return;
      case 'distance':
        if (this.#modes.moveTo(this.#mechanics.demandCounts + value('Target'))) this.#runs = kind;
        return;
      case 'speed':
      case 'move until torque':
        this.#runs = kind;
        this.#modes.runAt(value('Speed') * perCount);
        return;
      case 'home':
        return this.#home();
    }
  }

  /** What it ran against holds the axis: it has arrived, and the torque stays on. */
  #endAtTorque(): void {
    if (this.#runs !== 'move until torque') return;
    const { torque, velocityCounts } = this.#mechanics;
    const limit = Math.min(this.#value(`move${this.#taken}TorqueLimit`), this.#value('torqueLimit'));
    const isHeld = Math.abs(velocityCounts) < Math.abs(this.#value(`move${this.#taken}Speed`)) / 20;
    if (!isHeld || Math.abs(torque) / 10 < 0.98 * limit) return;
    this.#runs = 'nothing';
    this.#modes.holdHere();
  }

  /** Whether the axis is where the move wanted it, within the window of the move. */
  get isInPosition(): boolean {
    const window = this.#value(`move${this.#taken}Window`);
    return this.#modes.generator.atTarget && Math.abs(this.#mechanics.followingErrorCounts) <= window;
  }
}
