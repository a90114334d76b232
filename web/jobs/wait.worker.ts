import { serveJob } from './serveJob.ts';
import { answerWait } from './waitJob.ts';

serveJob(answerWait);
