import { addressOf, bytesOf, type Trace, type TraceHeader } from '@kavrid/contract';

/** A run whose samples are on the server. */
export interface RunToFetch {
  readonly id: string;
  readonly header: TraceHeader;
}

let kept: { readonly id: string; readonly trace: Trace } | undefined;

/** The trace of a run; the last one is kept. @throws Error when the samples do not arrive whole */
export async function fetchTrace({ id, header }: RunToFetch): Promise<Trace> {
  if (kept?.id === id) return kept.trace;
  const answer = await fetch(`/api${addressOf('readSamples', { id })}`);
  if (!answer.ok) throw new Error('The samples of the run could not be read from the server.');
  const samples = new Uint8Array(await answer.arrayBuffer());
  if (samples.length !== bytesOf(header)) throw new Error('The samples of the run arrived incomplete.');
  kept = { id, trace: { header, samples } };
  return kept.trace;
}
