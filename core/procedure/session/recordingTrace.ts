import { traceDepth } from '../../drive/index.ts';
import type { SessionState } from './sessionState.ts';
import { send, set, type Turn } from './turn.ts';

/** Samples taken at once: as many as leave time for the next heartbeat. */
const samplesAtOnce = 70;

/** Over a serial line a recording is fetched when the motor is off: it has to fit into the memory of the drive until then. */
const serialFactor = 8;

/** Steps of the drive from sample to sample, over the line in use. */
export const recordedSteps = ({ address }: SessionState, periodSteps: number): number =>
  address?.kind === 'serial' ? serialFactor * periodSteps : periodSteps;

/** While a motor is on, a serial line is kept free for stops and signs of life. */
const mustWait = ({ address, permits, isOurs }: SessionState) =>
  address?.kind === 'serial' && (permits.enable !== undefined || permits.act !== undefined || isOurs);

/** Fetches what the trace memory of the drive has that is not here. */
export function takeSamples(turn: Turn): void {
  const { recording, status, inFlight } = turn.state;
  if (!recording || Object.values(inFlight).some(({ purpose }) => purpose === 'trace' || purpose === 'end of trace'))
    return;
  if (mustWait(turn.state)) return waitForMotor(turn);
  const { traceHead: head = 0, traceTrigger } = status?.values ?? {};
  if (status && status.requestedAt < recording.startedAt) return;
  const trigger = traceTrigger === undefined || traceTrigger === 0xffffffff ? recording.trigger : traceTrigger;
  set(turn, { recording: { ...recording, trigger } });
  const missing = head - recording.taken;
  if (missing > traceDepth - overwrittenSoon) return leaveGap(turn, missing);
  if (missing <= 0) return recording.ending ? endRecording(turn) : undefined;
  const count = Math.min(missing, samplesAtOnce);
  send(turn, 'trace', { kind: 'read trace', from: recording.taken, count });
  // Counted now, put right when it fails: the pieces arrive in order on one line.
  set(turn, { recording: { ...recording, trigger, taken: recording.taken + count } });
}

/** Samples that the drive may overwrite while a piece is on its way. */
const overwrittenSoon = 300;

/** The drive was faster than the line: what it has overwritten is left out, and the recording goes on with what is there. */
function leaveGap(turn: Turn, behind: number): void {
  const { recording } = turn.state;
  if (!recording) return;
  const count = behind - traceDepth / 2;
  turn.commands.push({ type: 'skip samples', count });
  set(turn, {
    recording: { ...recording, taken: recording.taken + count, missing: recording.missing + count },
    progress: `The recording has a gap: ${recording.missing + count} samples were overwritten before they could be fetched.`,
  });
}

/** ms that a recording which has ended waits to be fetched, from the moment the motor is off */
const fetchTime = 120_000;

function waitForMotor(turn: Turn): void {
  const { recording } = turn.state;
  if (!recording?.ending) return;
  const ending = { ...recording.ending, by: turn.now + fetchTime };
  set(turn, {
    recording: { ...recording, ending },
    progress: 'Recorded. Switch the motor off: the recording is then fetched over the serial line.',
  });
}

/** A piece could not be read. What is missing leaves a gap that nobody can fill: the recording ends there. */
export function recordingFailed(turn: Turn, because = 'the recording could not be read'): void {
  const { recording } = turn.state;
  if (!recording) return;
  set(turn, {
    recording: { ...recording, ending: recording.ending ?? { end: { kind: 'fault', because }, by: turn.now } },
  });
  endRecording(turn);
}

/** Keeps what has been taken. */
export function endRecording(turn: Turn): void {
  const { recording } = turn.state;
  if (!recording) return;
  const end = recording.ending?.end ?? { kind: 'link lost', because: 'the link was lost' };
  turn.commands.push({ type: 'keep run', recording, end, endedAt: turn.now });
  set(turn, { recording: undefined });
}
