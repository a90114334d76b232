import { fetchTrace } from './fetchTrace.ts';
import { serveJob } from './serveJob.ts';
import { runSpindleTest, type SpindleRunRequest, type SpindleRunResult } from './spindleRunJob.ts';

serveJob(
  async ({ spindle, run }: SpindleRunRequest) => runSpindleTest({ spindle, measured: run && (await fetchTrace(run)) }),
  (result: SpindleRunResult) =>
    result.kind === 'run'
      ? Object.values(result.recording).flatMap((each) => (typeof each === 'number' ? [] : [each.buffer]))
      : [],
);
