import * as checks from './checks.ts';
import type { Check, CheckedAxis, Finding, Severity } from './finding.ts';

const registry: readonly Check[] = Object.values(checks);
const rank: Readonly<Record<Severity, number>> = { stop: 0, warn: 1, note: 2 };

/** Every finding of an axis, the gravest first. */
export const findingsOf = (axis: CheckedAxis): readonly Finding[] =>
  registry.flatMap((check) => check(axis)).sort((a, b) => rank[a.severity] - rank[b.severity]);
