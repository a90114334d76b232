import { answerResponse } from './answerResponse.ts';
import { serveJob } from './serveJob.ts';

serveJob(answerResponse);
