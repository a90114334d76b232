import { type Trace, type TraceHeader } from '@kavrid/contract';
/** A run whose samples are on the server. */
export interface RunToFetch {
  readonly id: string;
  readonly header: TraceHeader;
}
/** The trace of a run; the last few are kept. @throws Error when the samples do not arrive whole */
export declare function fetchTrace({ id, header }: RunToFetch): Promise<Trace>;
