import * as direction from './checks/direction.ts';
import * as followingError from './checks/followingError.ts';
import * as gear from './checks/gear.ts';
import * as load from './checks/load.ts';
import * as mechanics from './checks/mechanics.ts';
import * as protection from './checks/protection.ts';
import * as rates from './checks/rates.ts';
import * as signal from './checks/signal.ts';
import * as supply from './checks/supply.ts';
import * as train from './checks/train.ts';
import type { Check, CheckedAxis, Finding, Severity } from './finding.ts';

const registry: readonly Check[] = [
  rates,
  gear,
  direction,
  load,
  mechanics,
  signal,
  protection,
  train,
  followingError,
  supply,
].flatMap((checks) => Object.values<Check>(checks));
const rank: Readonly<Record<Severity, number>> = { stop: 0, warn: 1, note: 2 };

/** Every finding of an axis, the gravest first. */
export const findingsOf = (axis: CheckedAxis): readonly Finding[] =>
  registry.flatMap((check) => check(axis)).sort((a, b) => rank[a.severity] - rank[b.severity]);
