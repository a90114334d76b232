import { planMove, type MoveProfile } from '../motion/index.ts';

/** Pulses sent at one fixed rate; the drive makes the profile itself. */
export interface UntimedTrain {
  readonly pulses: number;
  /** pulses/s */
  readonly rate: number;
  /** s from the start of one train to the start of the next; undefined: not repeated */
  readonly repeatPeriod: number | undefined;
  /** axis units/s and /s², the drive's own limits */
  readonly speedLimit: number;
  readonly acceleration: number;
  /** s by which the drive's smoothing lengthens a move */
  readonly smoothing: number;
}

export interface TrainResult {
  /** axis units */
  readonly distance: number;
  /** s in which all pulses have been sent */
  readonly trainTime: number;
  /** s that the drive's own profile needs for the distance */
  readonly profileTime: number;
  /** s from the first pulse to rest; where pulses come too slowly, the drive goes at their rate and slows down after the last */
  readonly moveTime: number;
  /** pulses/s below which the drive waits for pulses while it moves: f = S · min(v, √(a·d)) */
  readonly lowestRate: number;
  /** axis units/s that the drive's profile reaches */
  readonly peakSpeed: number;
}

/** Works out a train. @param stepsPerUnit pulses per axis unit, positive */
export function trainResult(train: UntimedTrain, stepsPerUnit: number): TrainResult {
  const distance = train.pulses / stepsPerUnit;
  const profile = planMove(distance, { speed: train.speedLimit, acceleration: train.acceleration });
  const trainTime = train.pulses / train.rate;
  return {
    distance,
    trainTime,
    profileTime: profile.duration,
    moveTime: moveOfTrain(train, stepsPerUnit).duration + train.smoothing,
    lowestRate: stepsPerUnit * profile.peakSpeed,
    peakSpeed: profile.peakSpeed,
  };
}

/** The move as it is really made: never faster than the pulses come. */
export const moveOfTrain = (train: UntimedTrain, stepsPerUnit: number): MoveProfile =>
  planMove(train.pulses / stepsPerUnit, {
    speed: Math.min(train.speedLimit, train.rate / stepsPerUnit),
    acceleration: train.acceleration,
  });
