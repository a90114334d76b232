import { answerTrace } from './answerTrace.ts';
import { serveJob } from './serveJob.ts';

serveJob(answerTrace);
