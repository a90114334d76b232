import type { AxisDocument } from '@kavrid/contract';
import { pulseTrainToVcd, type VcdChunk } from '@kavrid/core/signal';
import { plannedTrain } from './pulseTrainJob.ts';

/** First the order; then `next` for each piece, so that whoever writes them sets the pace. */
export type PulseTrainRequest =
  | { readonly kind: 'start'; readonly axis: AxisDocument; readonly from: number; readonly to: number }
  | { readonly kind: 'next' };

export type PulseTrainReply =
  | { readonly kind: 'piece'; readonly bytes: Uint8Array<ArrayBuffer>; readonly done: number }
  | { readonly kind: 'end' }
  | { readonly kind: 'failed'; readonly because: string };

const pieceBytes = 1 << 20;
let pieces: Generator<VcdChunk, void, void> | undefined;

const reply = (message: PulseTrainReply, transfer: Transferable[] = []) => self.postMessage(message, { transfer });

self.onmessage = ({ data }: MessageEvent<PulseTrainRequest>) => {
  if (data.kind === 'start') {
    const planned = plannedTrain(data.axis);
    if ('because' in planned) return reply({ kind: 'failed', because: planned.because });
    pieces = pulseTrainToVcd({ ...planned.order, from: data.from, to: data.to }, pieceBytes);
  }
  const piece = pieces?.next();
  if (!piece || piece.done) return reply({ kind: 'end' });
  const bytes = piece.value.bytes as Uint8Array<ArrayBuffer>;
  reply({ kind: 'piece', bytes, done: piece.value.done }, [bytes.buffer]);
};
