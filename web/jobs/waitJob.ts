import { axisInputOf, moveChannels, servoDefinition, type AxisDocument } from '@kavrid/contract';
import { evaluateAxis } from '@kavrid/core/chain';
import { runHeldSpeed, type HeldSpeedResult } from '@kavrid/core/plant';
import { toNumber } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';
import { speedNoise } from '@kavrid/core/trace';
import { fetchTrace, type RunToFetch } from './fetchTrace.ts';

/** A speed whose shaft is held for a while, and a recording by which the noise of the measured speed is told. */
export interface WaitWork {
  readonly axis: AxisDocument;
  readonly run: RunToFetch | undefined;
}

export interface WaitAnswer {
  readonly because?: string;
  readonly waiting?: HeldSpeedResult;
  readonly without?: HeldSpeedResult;
  /** Axis units/s by which the set-point is ahead of an axis that nothing holds, and axis units of lead. */
  readonly freeSpeedGap?: number;
  readonly freeLead?: number;
  /** Axis units/s, 3 σ; undefined: nothing was recorded at a steady speed */
  readonly noise?: number | undefined;
  readonly held: readonly [from: number, until: number];
  readonly seconds: number;
}

/** s until the shaft is held, and that are shown after it is released; the speed has been reached by then. */
const [before, after] = [0.2, 1];

export async function answerWait({ axis, run }: WaitWork): Promise<WaitAnswer> {
  const answer = compareWaits(axis);
  if (!run) return answer;
  const { demandPosition, actualSpeed, period } = moveChannels(await fetchTrace(run));
  return { ...answer, noise: speedNoise(demandPosition, actualSpeed, period) };
}

/** The same speed with and without a set-point that waits. */
export function compareWaits(axis: AxisDocument): WaitAnswer {
  const { wait, response } = axis.moves;
  const { speed, seconds } = response;
  const acceleration = axis.testMove.acceleration ?? axis.homing.acceleration;
  const nothing = (because: string): WaitAnswer => ({ because, held: [0, 0], seconds: 0 });
  if (speed === null || seconds === null) return nothing('the speed and the time have not been entered');
  if (acceleration === null) return nothing('no acceleration is planned');
  const results = evaluateAxis(axisInputOf(axis).input);
  const servo = servoDefinition(axis, results);
  if (servo.state === 'unknown') return nothing(servo.because);
  const resolution = valueOf(results.feedbackResolution);
  if (!resolution) return nothing('the resolution of the feedback is not known');
  const heldFrom = speed / acceleration + before;
  const order = {
    servo: servo.value,
    unitsPerCount: toNumber(resolution),
    ...{ speed, acceleration, heldFrom, heldFor: seconds, duration: heldFrom + seconds + after, recordPeriod: 0.002 },
  };
  const never = { speedGap: Infinity, positionGap: Infinity };
  const free = runHeldSpeed({ ...order, heldFor: 0, duration: heldFrom, wait: never });
  return {
    waiting: runHeldSpeed({
      ...order,
      wait: { speedGap: wait.speedGap ?? Infinity, positionGap: wait.positionGap ?? Infinity },
    }),
    without: runHeldSpeed({ ...order, wait: never }),
    freeSpeedGap: free.setPoint.reduce((most, each, k) => Math.max(most, each - (free.actualSpeed[k] ?? 0)), 0),
    freeLead: free.peakError,
    held: [heldFrom, heldFrom + seconds],
    seconds: order.duration,
  };
}
