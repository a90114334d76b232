import { serveJob } from './serveJob.ts';
import { planTuning } from './tuningJob.ts';

serveJob(planTuning);
