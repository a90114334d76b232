import * as direction from './checks/direction.ts';
import * as encoder from './checks/encoder.ts';
import * as followingError from './checks/followingError.ts';
import * as holdingBrake from './checks/holdingBrake.ts';
import * as load from './checks/load.ts';
import * as mechanics from './checks/mechanics.ts';
import * as protection from './checks/protection.ts';
import * as rates from './checks/rates.ts';
import * as supply from './checks/supply.ts';
import * as untoldMotion from './checks/untoldMotion.ts';
import { checksIn, rank, type CheckedAxis, type Finding } from './finding.ts';
import { commandChecks } from './commandFindings.ts';

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
/** Every finding of an axis, the gravest first. */
export const findingsOf = (axis: CheckedAxis): readonly Finding[] =>
  [...commandChecks(axis.input.command.kind), ...always]
    .flatMap((check) => check(axis))
    .sort((a, b) => rank[a.severity] - rank[b.severity]);
