import { useEffect, useRef, useState } from 'react';
import type { MoveRequest } from './move.worker.ts';
import type { MoveJobInput, MoveJobResult, MoveView } from './moveJob.ts';

/**
 * Runs the job in a worker whenever its input changes; the latest revision wins, the last answer stays until then. A new
 * view of the same moves travels without them.
 */
export function useMoveJob(input: MoveJobInput | undefined, view: MoveView): MoveJobResult | undefined {
  const worker = useRef<Worker>(undefined);
  const revision = useRef(0);
  const sent = useRef<MoveJobInput>(undefined);
  const [result, setResult] = useState<MoveJobResult>();
  useEffect(() => {
    const made = new Worker(new URL('./move.worker.ts', import.meta.url), { type: 'module' });
    made.onmessage = (event: MessageEvent<{ readonly revision: number; readonly result: MoveJobResult }>) => {
      if (event.data.revision === revision.current) setResult(event.data.result);
    };
    worker.current = made;
    sent.current = undefined;
    return () => made.terminate();
  }, []);
  useEffect(() => {
    if (!input) return;
    const ask = () => {
      const isNew = sent.current !== input;
      sent.current = input;
      const request: MoveRequest = { revision: ++revision.current, view, ...(isNew ? { input } : {}) };
      worker.current?.postMessage(request);
    };
    if (sent.current === input) {
      ask();
      return;
    }
    // A short wait lets a burst of keystrokes become one job.
    const timer = setTimeout(ask, 20);
    return () => clearTimeout(timer);
  }, [input, view]);
  return result;
}
