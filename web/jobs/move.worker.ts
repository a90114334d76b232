import { prepareMoves, viewMoves, type MoveJobInput, type MoveView, type PreparedMoves } from './moveJob.ts';

/** A message without an input asks for another view of the moves prepared last. */
export interface MoveRequest {
  readonly revision: number;
  readonly input?: MoveJobInput;
  readonly view: MoveView;
}

let prepared: PreparedMoves | undefined;

self.onmessage = ({ data: { revision, input, view } }: MessageEvent<MoveRequest>) => {
  if (input) prepared = prepareMoves(input);
  if (prepared) self.postMessage({ revision, result: viewMoves(prepared, view) });
};
