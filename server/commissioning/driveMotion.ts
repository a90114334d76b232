import type { AxisDocument } from '@kavrid/contract';
import { controlBit, controlword, deviceState, nextTowardsEnabled, operationMode, statusBit } from '@kavrid/core/drive';
import { setTimeout as pause } from 'node:timers/promises';
import type { AxisScaling } from './axisScaling.ts';
import { faultText, type ServoKey } from './driveStatus.ts';
import type { LinkKeeper } from './linkKeeper.ts';
import { Refusal } from './refusal.ts';

/** What a motion needs: the drive, how its numbers are scaled, what is planned, and when to stop. */
export interface MotionOrder {
  readonly link: LinkKeeper<ServoKey>;
  readonly scaling: AxisScaling;
  readonly document: AxisDocument;
  readonly signal: AbortSignal;
  /** Tells the windows what is being done. */
  readonly tell: (progress: string) => void;
}

/** A length of the drive's own ramps and speeds: whole and above zero, whichever way the mechanics turn. */
const increments = (perUnit: number, scaling: AxisScaling): number =>
  Math.max(1, Math.round(perUnit * Math.abs(scaling.incrementsPerUnit)));

/** Takes the drive through its states to operation enabled, at rest and in profile velocity. */
export async function enableDrive({ link, scaling, document, signal }: MotionOrder): Promise<void> {
  const drive = link.need();
  const braking = 2 * (document.testMove.acceleration ?? document.homing.acceleration ?? 1000);
  await drive.write('quickStopDeceleration', increments(braking, scaling));
  await drive.write('modeOfOperation', operationMode.profileVelocity);
  await drive.write('targetVelocity', 0);
  for (let k = 0; k < 8; k++) {
    const { statusword } = await drive.read('statusword');
    const state = deviceState(statusword);
    if (state === 'fault') throw new Refusal('The drive has a fault. Look at its cause, then reset it.');
    const next = state && nextTowardsEnabled(state);
    if (next === undefined) return;
    signal.throwIfAborted();
    await drive.write('heartbeat', 1);
    await drive.write('controlword', next);
  }
  throw new Refusal('The drive did not enable. Is its enable input on, and its active level right?');
}

/** Ramps for a jog, and the mode in which the drive follows a speed. */
export async function prepareJog({ link, scaling, document }: Omit<MotionOrder, 'signal' | 'tell'>): Promise<void> {
  const drive = link.needEnabled();
  const acceleration = increments(document.homing.acceleration ?? document.testMove.acceleration ?? 500, scaling);
  if (link.status?.modeDisplay !== operationMode.profileVelocity)
    await drive.write('modeOfOperation', operationMode.profileVelocity);
  await drive.write('profileAcceleration', acceleration);
  await drive.write('profileDeceleration', 2 * acceleration);
}

/** Starts the drive's own homing and waits for its end. */
export async function homeAxis({ link, signal, tell }: MotionOrder): Promise<void> {
  const drive = link.needEnabled();
  tell('Homing');
  await drive.write('modeOfOperation', operationMode.homing);
  await drive.write('controlword', controlword.enableOperation);
  await drive.write('controlword', controlword.enableOperation | controlBit.startHoming);
  const ended = statusBit.acknowledged | statusBit.targetReached;
  // The first status may still be of the time before the start.
  await link.nextStatus(signal);
  const status = await link.until(
    signal,
    120,
    'Homing',
    ({ statusword }) => (statusword & ended) === ended || (statusword & statusBit.homingError) !== 0,
  );
  if (status.statusword & statusBit.homingError) throw new Error(faultText(status) ?? 'Homing failed.');
}

/** @throws Refusal while the axis may not make its test move: not filled in, not homed, beyond a soft limit. */
function testMoveOf({ document: { testMove, settings }, link }: MotionOrder) {
  const { from, distance, speed, acceleration, jerk, dwell, repeats } = testMove;
  if (
    from === null ||
    distance === null ||
    speed === null ||
    acceleration === null ||
    dwell === null ||
    repeats === null
  ) {
    throw new Refusal('The test move is not filled in.');
  }
  if (link.status?.homed !== 1) throw new Refusal('Home the axis first: a test move is between two positions.');
  const { minusSoftLimit, plusSoftLimit } = settings;
  if (
    (minusSoftLimit !== null && from < minusSoftLimit) ||
    (plusSoftLimit !== null && from + distance > plusSoftLimit)
  ) {
    throw new Refusal('The test move leaves the soft limits.');
  }
  return { from, distance, speed, acceleration, jerk, dwell, repeats };
}

/** Goes to where the test move begins, no faster than a jog. */
export async function goToStart(order: MotionOrder): Promise<void> {
  const { from, speed, acceleration, jerk } = testMoveOf(order);
  order.tell('Going to the start');
  await prepareMove(order, Math.min(speed, order.document.jogSpeed ?? speed), acceleration, jerk);
  await moveTo(order, from, 600);
}

/** There and back as often as planned, with a dwell after each move. */
export async function makeTestMove(order: MotionOrder): Promise<void> {
  const { from, distance, speed, acceleration, jerk, dwell, repeats } = testMoveOf(order);
  await prepareMove(order, speed, acceleration, jerk);
  for (let k = 0; k < 2 * repeats; k++) {
    order.tell(`Move ${k + 1} of ${2 * repeats}`);
    await moveTo(order, k % 2 === 0 ? from + distance : from, 60 + distance / speed);
    await pause(dwell * 1000);
  }
}

async function prepareMove(
  { link, scaling }: MotionOrder,
  speed: number,
  acceleration: number,
  jerk: number | null,
): Promise<void> {
  const drive = link.needEnabled();
  await drive.write('modeOfOperation', operationMode.profilePosition);
  await drive.write('profileVelocity', increments(speed, scaling));
  await drive.write('profileAcceleration', increments(acceleration, scaling));
  await drive.write('profileDeceleration', increments(acceleration, scaling));
  await drive.write('profileJerk', jerk === null ? 0 : increments(jerk, scaling));
}

async function moveTo({ link, scaling, signal }: MotionOrder, position: number, seconds: number): Promise<void> {
  const drive = link.needEnabled();
  signal.throwIfAborted();
  await drive.write('targetPosition', Math.round(position * scaling.incrementsPerUnit));
  await drive.write('controlword', controlword.enableOperation);
  await drive.write('controlword', controlword.enableOperation | controlBit.newSetPoint);
  const { statusword } = await drive.read('statusword');
  if ((statusword & statusBit.acknowledged) === 0)
    throw new Error('The drive did not accept the target. Is it outside the soft limits?');
  await link.nextStatus(signal);
  await link.until(signal, seconds, 'A move', (status) => (status.statusword & statusBit.targetReached) !== 0);
}
