import type { Readable } from 'node:stream';
import { mostTraceBytes, readImported, type Imported } from '@kavrid/contract';
import { ProblemError } from '../problem.ts';

/** Bytes of the line that goes before the samples, with room to spare. */
const lineRoom = 2 ** 17;

/** Takes in a trace that a window has made of a table. @throws ProblemError 413, 422 */
export async function importedTrace(body: Readable): Promise<Imported> {
  const pieces: Buffer[] = [];
  let size = 0;
  for await (const piece of body as AsyncIterable<Buffer>) {
    size += piece.length;
    if (size > mostTraceBytes + lineRoom)
      throw new ProblemError(413, `The samples of a trace take at most ${mostTraceBytes / 2 ** 20} MB.`);
    pieces.push(piece);
  }
  const reading = readImported(Buffer.concat(pieces));
  if ('because' in reading) throw new ProblemError(422, reading.because);
  return reading;
}
