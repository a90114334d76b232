import { valueOf } from '@kavrid/core/sheet';
import { evaluateSpindle, steadySpeeds, type SteadySpeed } from '@kavrid/core/spindle';
import type { SpindleDocument } from '../spindleDocument.ts';
import { channelValues, sinceTrigger, type SpindleChannel, type Trace } from '../trace/index.ts';
import { spindleInputOf } from './spindleInputOf.ts';

/** The steady speeds of a recorded run test beside the commanded ones; undefined: the recording does not show them. */
export function spindleSpeeds(spindle: SpindleDocument, trace: Trace): readonly SteadySpeed[] | undefined {
  const { input } = spindleInputOf(spindle);
  const ratio = valueOf(evaluateSpindle(input).ratioNumber);
  const values = (id: SpindleChannel) => {
    const recorded = channelValues(trace, id);
    return recorded && sinceTrigger(trace.header, recorded);
  };
  const [hertz, motorSpeed] = [values('hertz'), values('speed')];
  const [speeds, stopAt] = [valueOf(input.runTest.speeds), valueOf(input.runTest.stopAt)];
  if (!hertz || !motorSpeed || !speeds || stopAt === undefined || ratio === undefined) return undefined;
  const pushed = valueOf(input.runTest.load);
  const changes = [
    ...speeds.map(({ at, toolSpeed }) => ({ at, commanded: toolSpeed })),
    ...(pushed ? [{ at: pushed.at }, { at: pushed.until }] : []),
  ].sort((a, b) => a.at - b.at);
  const before = changes.filter(({ at }) => at < stopAt);
  return steadySpeeds(before, stopAt, { period: trace.header.period, hertz, motorSpeed, ratio });
}
