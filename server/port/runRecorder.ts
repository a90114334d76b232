import { missingSample } from '@kavrid/contract';

const channels = 8;

/** Collects the raw samples of one run, piece by piece. */
export function runRecorder() {
  let pieces: Int32Array[] = [];
  return {
    start: () => void (pieces = []),
    add: (samples: Int32Array) => void pieces.push(samples),
    /** So many samples could not be fetched. */
    skip: (count: number) => void pieces.push(new Int32Array(count * channels).fill(missingSample)),
    /** All samples from one on, and forgets them. */
    take(first: number): Int32Array {
      const all = new Int32Array(pieces.reduce((sum, { length }) => sum + length, 0));
      let at = 0;
      for (const piece of pieces) {
        all.set(piece, at);
        at += piece.length;
      }
      pieces = [];
      return all.subarray(first * channels);
    },
  };
}
