import { planHoming } from './homingJob.ts';
import { serveJob } from './serveJob.ts';

serveJob(planHoming);
