import { useEffect, useMemo, useRef, useState } from 'react';
import type { JobReply, JobRequest } from './serveJob.ts';

/** What came of an input. */
export interface JobAnswer<I, R> {
  readonly input: I;
  readonly result: R;
}

/**
 * Runs a job in a worker of its own whenever its input changes. While the worker works, only the newest input waits; the last
 * answer stays until the next. A job that fails throws where it is used.
 * @param start makes the worker, which answers by {@link serveJob}
 */
export function useJob<I, R>(start: () => Worker, input: I | undefined): JobAnswer<I, R> | undefined {
  const first = useRef(start);
  const worker = useRef<Worker>(undefined);
  const revision = useRef(0);
  const isBusy = useRef(false);
  const waiting = useRef<JobRequest<I>>(undefined);
  const newest = useRef<I>(undefined);
  const [answer, setAnswer] = useState<{ readonly input: I; readonly reply: JobReply<R> }>();
  const send = useRef(() => {
    const next = waiting.current;
    if (isBusy.current || !next || !worker.current) return;
    waiting.current = undefined;
    isBusy.current = true;
    worker.current.postMessage(next);
  });
  useEffect(() => {
    const made = first.current();
    made.onmessage = ({ data }: MessageEvent<JobReply<R>>) => {
      isBusy.current = false;
      if (data.revision === revision.current && newest.current !== undefined)
        setAnswer({ input: newest.current, reply: data });
      send.current();
    };
    made.onerror = ({ message }) => {
      isBusy.current = false;
      if (newest.current === undefined) return;
      const because = `The background computation has stopped${message ? `: ${message}` : '.'}`;
      setAnswer({ input: newest.current, reply: { kind: 'failed', revision: revision.current, because } });
    };
    worker.current = made;
    isBusy.current = false;
    return () => made.terminate();
  }, []);
  useEffect(() => {
    if (input === undefined) return;
    newest.current = input;
    waiting.current = { revision: ++revision.current, input };
    send.current();
  }, [input]);
  return useMemo(() => {
    if (!answer) return undefined;
    if (answer.reply.kind === 'failed') throw new Error(answer.reply.because);
    return { input: answer.input, result: answer.reply.result };
  }, [answer]);
}
