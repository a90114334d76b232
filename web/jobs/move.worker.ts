import { runMoveJob, type MoveJobInput } from './moveJob.ts';

self.onmessage = (event: MessageEvent<{ readonly revision: number; readonly input: MoveJobInput }>) => {
  const { revision, input } = event.data;
  self.postMessage({ revision, result: runMoveJob(input) });
};
