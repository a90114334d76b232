import { rank } from '../finding.ts';
import * as bus from './bus.ts';
import type { CheckedSpindle, SpindleCheck, SpindleFinding } from './checkedSpindle.ts';
import * as curve from './curve.ts';
import * as interlocks from './interlocks.ts';
import * as plate from './plate.ts';
import * as ramps from './ramps.ts';
import * as scaling from './scaling.ts';

/** Every check of a spindle. */
const registry: readonly SpindleCheck[] = [plate, curve, scaling, ramps, bus, interlocks].flatMap((checks) =>
  Object.values<SpindleCheck>(checks),
);

/** Every finding of a spindle, the gravest first. */
export const spindleFindingsOf = (spindle: CheckedSpindle): readonly SpindleFinding[] =>
  registry.flatMap((check) => check(spindle)).sort((a, b) => rank[a.severity] - rank[b.severity]);
