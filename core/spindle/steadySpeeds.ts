/** A stretch of a run test in which the spindle turns at one commanded speed and under one load. */
export interface SteadySpeed {
  /** s, from the start of the run test */
  readonly from: number;
  readonly to: number;
  /** rpm of the tool */
  readonly commanded: number;
  readonly measured: number;
  /** % of the commanded speed, below 0: too slow */
  readonly error: number;
}

/** Of the time between two changes, the part at its end that is looked at, and s that it lasts at least. */
const [lookedAtShare, shortest] = [0.3, 0.2];
/** Share by which the output frequency may wander in a steady stretch. */
const steadyShare = 0.005;

/**
 * The speed measured in each steady stretch beside the commanded one; a stretch whose output frequency still changes is left out.
 * @param changes s at which a speed is commanded (rpm of the tool), or only the load changes, in their order
 * @param hertz output frequency, sample by sample
 * @param motorSpeed rpm
 * @param ratio motor turns for one of the tool
 */
export function steadySpeeds(
  changes: readonly { readonly at: number; readonly commanded?: number }[],
  end: number,
  {
    period,
    hertz,
    motorSpeed,
    ratio,
  }: {
    readonly period: number;
    readonly hertz: Float64Array;
    readonly motorSpeed: Float64Array;
    readonly ratio: number;
  },
): readonly SteadySpeed[] {
  let commanded = 0;
  return changes.flatMap((change, index): readonly SteadySpeed[] => {
    commanded = change.commanded ?? commanded;
    const to = Math.min(changes[index + 1]?.at ?? end, end, hertz.length * period);
    const from = Math.max(change.at, to - Math.max(shortest, lookedAtShare * (to - change.at)));
    const [first, last] = [Math.ceil(from / period), Math.floor(to / period) - 1];
    if (commanded <= 0 || to - change.at < shortest || last <= first) return [];
    const outputs = hertz.subarray(first, last + 1);
    const [low, high] = [Math.min(...outputs), Math.max(...outputs)];
    if (!(low > 0 && high - low <= steadyShare * high)) return [];
    const speeds = motorSpeed.subarray(first, last + 1);
    const measured = speeds.reduce((sum, each) => sum + each, 0) / speeds.length / ratio;
    return [{ from, to, commanded, measured, error: 100 * (measured / commanded - 1) }];
  });
}
