import { channelValues, readEarlierTrace, type RunRecord, type Trace } from '@kavrid/contract';

/** A trace of an axis in mm, from numbers. */
export function traceOf(channels: Readonly<Record<string, readonly number[]>>, period = 0.001): Trace {
  const reading = readEarlierTrace({ period, channels }, 'mm');
  if (reading.kind === 'refused') throw new Error(reading.because);
  return reading.trace;
}

/** The channels of a run, its samples fetched as a window fetches them. */
export async function channelsOfRun(base: string, run: RunRecord): Promise<(id: string) => Float64Array> {
  const answer = await fetch(`${base}/runs/${run.id}/samples`);
  const samples = new Uint8Array(await answer.arrayBuffer());
  return (id) => {
    const values = channelValues({ header: run.trace, samples }, id);
    if (!values) throw new Error(`the trace has no channel ${id}`);
    return values;
  };
}
