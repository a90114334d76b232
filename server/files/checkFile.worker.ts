import { parentPort, workerData } from 'node:worker_threads';
import { checkFile } from './checkFile.ts';

const path = (workerData as { readonly path: string }).path;
const result = await checkFile(path, (progress) => parentPort?.postMessage({ progress }));
parentPort?.postMessage({ result });
