import { runSpindleTest, type SpindleRunInput } from './spindleRunJob.ts';

self.onmessage = ({
  data: { revision, input },
}: MessageEvent<{ readonly revision: number; readonly input: SpindleRunInput }>) => {
  const result = runSpindleTest(input);
  const arrays =
    result.kind === 'run'
      ? Object.values(result.recording).flatMap((each) => (typeof each === 'number' ? [] : [each.buffer]))
      : [];
  self.postMessage({ revision, result }, { transfer: arrays });
};
