import { useEffect, useRef, useState } from 'react';
import type { MoveJobInput, MoveJobResult } from './moveJob.ts';

/** Runs the job in a worker whenever its input changes; the latest revision wins, the last answer stays until then. */
export function useMoveJob(input: MoveJobInput | undefined): MoveJobResult | undefined {
  const worker = useRef<Worker>(undefined);
  const revision = useRef(0);
  const [result, setResult] = useState<MoveJobResult>();
  useEffect(() => {
    const made = new Worker(new URL('./move.worker.ts', import.meta.url), { type: 'module' });
    made.onmessage = (event: MessageEvent<{ readonly revision: number; readonly result: MoveJobResult }>) => {
      if (event.data.revision === revision.current) setResult(event.data.result);
    };
    worker.current = made;
    return () => made.terminate();
  }, []);
  useEffect(() => {
    if (!input) return;
    // A short wait lets a burst of keystrokes become one job.
    const timer = setTimeout(() => worker.current?.postMessage({ revision: ++revision.current, input }), 60);
    return () => clearTimeout(timer);
  }, [input]);
  return result;
}
