import { serveJob } from './serveJob.ts';
import { answerTrial } from './trialJob.ts';

serveJob(answerTrial);
