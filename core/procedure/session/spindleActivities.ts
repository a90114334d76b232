import { beginActivity } from './beginActivity.ts';
import { lineTooSlow } from './lineCycle.ts';
import type { SpindleMotionPlan } from './memberPlan.ts';
import { noWatchdog } from './planChecks.ts';
import { referenceCounts, runSpindleSteps, runTestSteps } from './spindleScripts.ts';
import { driveState, isPowered, isStale, set, stands, tell, type Turn } from './turn.ts';
import { onlyWatched, tooSlow } from './watched.ts';

const spindleMotion = ({ state: { plan } }: Turn): SpindleMotionPlan | string =>
  plan?.motion.kind === 'spindle'
    ? plan.motion
    : plan?.motion.kind === 'unknown'
      ? plan.motion.because
      : 'An axis cannot do that.';

/** Turns the spindle at a speed of the tool. */
export function runSpindle(turn: Turn, window: string, speed: number, isReverse: boolean): void {
  const { state } = turn;
  const motion = spindleMotion(turn);
  if (typeof motion === 'string') return tell(turn, window, motion);
  const { profile, permits } = state;
  const isRunning = permits.enable !== undefined && driveState(state, turn.now) === 'operation enabled';
  const counts = profile && referenceCounts(profile, speed * motion.hertzPerToolRpm);
  const because =
    speed > motion.highestToolSpeed * 1.0005
      ? `${speed} rpm is above the ${Math.round(motion.highestToolSpeed)} rpm that ${motion.highestBy.join(' and ')} allow.`
      : counts === undefined
        ? 'This speed does not fit the 16 bits of the speed reference.'
        : isRunning
          ? undefined
          : notStartable(turn);
  if (because !== undefined || counts === undefined) return tell(turn, window, because ?? '');
  set(turn, { isReverse, isLatched: false, linkMessage: '' });
  beginActivity(turn, window, 'running', runSpindleSteps(counts, isReverse, isRunning));
}

/** Starting into a motor that is still turning would trip the drive. */
function notStartable(turn: Turn): string | undefined {
  const { state, now } = turn;
  if (isStale(state, now)) return tooSlow(turn);
  const unwatched = state.profile && noWatchdog(state.profile, 'busTimeOut');
  if (unwatched !== undefined) return unwatched;
  const slow = lineTooSlow(state);
  if (slow !== undefined) return slow;
  const drive = driveState(state, now);
  if (drive === 'fault') return 'The drive has tripped. Find the cause, then reset it.';
  if (isPowered(drive)) return onlyWatched;
  return stands(state)
    ? undefined
    : 'The motor is still turning. Wait until it has stopped; starting now would trip the drive.';
}

/** Makes the run test that is planned. */
export function runTest(turn: Turn, window: string): void {
  const motion = spindleMotion(turn);
  const { profile } = turn.state;
  if (typeof motion === 'string') return tell(turn, window, motion);
  const { runTest: test } = motion;
  if ('because' in test) return tell(turn, window, test.because);
  if (!profile) return;
  if (test.events.some((event) => event.kind === 'speed' && referenceCounts(profile, event.hertz) === undefined))
    return tell(turn, window, 'A speed of the run test does not fit the 16 bits of the speed reference.');
  const because = notStartable(turn);
  if (because !== undefined) return tell(turn, window, because);
  set(turn, { isReverse: false, isLatched: false, linkMessage: '' });
  beginActivity(turn, window, 'run test', runTestSteps(profile, test.events, test.duration));
}
