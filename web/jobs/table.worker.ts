import { answerTable } from './answerTable.ts';
import { serveJob } from './serveJob.ts';

serveJob(answerTable);
