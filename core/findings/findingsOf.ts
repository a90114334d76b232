import * as choiceInputs from './checks/choiceInputs.ts';
import * as direction from './checks/direction.ts';
import * as encoder from './checks/encoder.ts';
import * as followingError from './checks/followingError.ts';
import * as gear from './checks/gear.ts';
import * as holdingBrake from './checks/holdingBrake.ts';
import * as hostLoop from './checks/hostLoop.ts';
import * as load from './checks/load.ts';
import * as mechanics from './checks/mechanics.ts';
import * as protection from './checks/protection.ts';
import * as rates from './checks/rates.ts';
import * as scaledSignal from './checks/scaledSignal.ts';
import * as signal from './checks/signal.ts';
import * as supply from './checks/supply.ts';
import * as train from './checks/train.ts';
import * as untoldMotion from './checks/untoldMotion.ts';
import { rank, type Check, type CheckedAxis, type Finding } from './finding.ts';

const checksIn = (...modules: readonly Readonly<Record<string, Check>>[]): readonly Check[] =>
  modules.flatMap((checks) => Object.values(checks));

const always = checksIn(
  untoldMotion,
  rates,
  encoder,
  direction,
  load,
  mechanics,
  holdingBrake,
  protection,
  followingError,
  supply,
);
/** Every check, by the kind of command that it has something to say of. */
const registry: Readonly<Record<CheckedAxis['input']['command']['kind'], readonly Check[]>> = {
  pulses: [...checksIn(gear, signal, train), ...always],
  analog: [...checksIn(scaledSignal, hostLoop), ...always],
  pwm: [...checksIn(scaledSignal, hostLoop), ...always],
  choice: [...checksIn(choiceInputs), ...always],
};

/** Every finding of an axis, the gravest first. */
export const findingsOf = (axis: CheckedAxis): readonly Finding[] =>
  registry[axis.input.command.kind].flatMap((check) => check(axis)).sort((a, b) => rank[a.severity] - rank[b.severity]);
