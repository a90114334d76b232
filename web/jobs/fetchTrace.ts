import { addressOf, bytesOf, type Trace, type TraceHeader } from '@kavrid/contract';

/** A run whose samples are on the server. */
export interface RunToFetch {
  readonly id: string;
  readonly header: TraceHeader;
}

/** Traces that are kept, the newest last: as many as are laid over each other. */
const kept = new Map<string, Trace>();
const mostKept = 3;

/** The trace of a run; the last few are kept. @throws Error when the samples do not arrive whole */
export async function fetchTrace({ id, header }: RunToFetch): Promise<Trace> {
  const known = kept.get(id);
  if (known) return known;
  const answer = await fetch(`/api${addressOf('readSamples', { id })}`);
  if (!answer.ok) throw new Error('The samples of the run could not be read from the server.');
  const samples = new Uint8Array(await answer.arrayBuffer());
  if (samples.length !== bytesOf(header)) throw new Error('The samples of the run arrived incomplete.');
  const [oldest] = kept.keys();
  if (kept.size >= mostKept && oldest !== undefined) kept.delete(oldest);
  kept.set(id, { header, samples });
  return { header, samples };
}
