export interface JobRequest<I> {
  readonly revision: number;
  readonly input: I;
}
export type JobReply<R> =
  | { readonly kind: 'done'; readonly revision: number; readonly result: R }
  | { readonly kind: 'failed'; readonly revision: number; readonly because: string };

/** Answers requests for a job within a worker. @param transferred arrays of a result that go over without a copy */
export function serveJob<I, R>(
  run: (input: I) => R | Promise<R>,
  transferred: (result: R) => Transferable[] = () => [],
): void {
  self.onmessage = async ({ data: { revision, input } }: MessageEvent<JobRequest<I>>) => {
    try {
      const result = await run(input);
      self.postMessage({ kind: 'done', revision, result } satisfies JobReply<R>, { transfer: transferred(result) });
    } catch (error) {
      const because = error instanceof Error ? error.message : String(error);
      self.postMessage({ kind: 'failed', revision, because } satisfies JobReply<R>);
    }
  };
}
