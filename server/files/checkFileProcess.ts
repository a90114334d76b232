import { checkFile } from './checkFile.ts';

/** A process of its own for one file: it may be large or made to do harm, and no axis is to wait for it. */
const path = process.argv[2];
if (path === undefined) throw new Error('The path of the file to check is missing.');
const result = await checkFile(path, (progress) => process.send?.({ progress }));
process.send?.({ result }, () => process.disconnect());
