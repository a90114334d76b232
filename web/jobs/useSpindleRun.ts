import type { SpindleDocument } from '@kavrid/contract';
import { useEffect, useRef, useState } from 'react';
import type { SpindleRunResult } from './spindleRunJob.ts';

/** ms that a burst of keystrokes is waited for. */
const burst = 20;

/** Runs the test of a spindle in a worker whenever it changes; the latest revision wins, the last answer stays until then. */
export function useSpindleRun(spindle: SpindleDocument): SpindleRunResult | undefined {
  const worker = useRef<Worker>(undefined);
  const revision = useRef(0);
  const [result, setResult] = useState<SpindleRunResult>();
  useEffect(() => {
    const made = new Worker(new URL('./spindleRun.worker.ts', import.meta.url), { type: 'module' });
    made.onmessage = (event: MessageEvent<{ readonly revision: number; readonly result: SpindleRunResult }>) => {
      if (event.data.revision === revision.current) setResult(event.data.result);
    };
    worker.current = made;
    return () => made.terminate();
  }, []);
  useEffect(() => {
    const timer = setTimeout(
      () => worker.current?.postMessage({ revision: ++revision.current, input: { spindle } }),
      burst,
    );
    return () => clearTimeout(timer);
  }, [spindle]);
  return result;
}
