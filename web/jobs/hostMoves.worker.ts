import { answerHostMoves } from './answerHostMoves.ts';
import { serveJob } from './serveJob.ts';

serveJob(answerHostMoves);
