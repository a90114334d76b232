import { formatNumber } from '../../quantity/index.ts';
import { runawayAtRest, stopping, type StopPhase } from '../../motion/index.ts';
import { neededTorque, type AxisGuide } from './axisGuide.ts';

// The values with which an axis is switched on for the first time.

/** % of rated torque with which one starts: common practice, 25 to 30 %. */
const lowest = 25;
const usual = 30;
/** Above what friction and gravity take. */
const margin = 1.25;

/** The torque limit for the first moves, in % of rated torque, and why. */
export interface StartTorque {
  readonly percent: number;
  readonly because: string;
}

export function startTorque(guide: AxisGuide): StartTorque | { readonly because: string } {
  const needed = neededTorque(guide);
  const { plannedTorqueLimit } = guide;
  if (needed === undefined)
    return plannedTorqueLimit !== null && plannedTorqueLimit < usual
      ? { percent: plannedTorqueLimit, because: 'the planned limit; friction and gravity are not known' }
      : { percent: usual, because: 'common practice; friction and gravity are not known' };
  const wanted = margin * needed;
  const offered = wanted <= lowest ? lowest : wanted <= usual ? usual : Math.ceil(wanted / 5) * 5;
  const most = plannedTorqueLimit ?? Infinity;
  if (needed >= most)
    return {
      because: `Friction and gravity take ${shown(needed)} %, and the planned torque limit is ${shown(most)} %. Raise the planned limit, or correct the plates`,
    };
  return {
    percent: Math.min(offered, most),
    because: `friction and gravity take ${shown(needed)} %`,
  };
}

/** Times the torque of the last try, where an axis did not move: friction is often more than plates say. */
const raise = 1.5;

/** Steps in which the torque limit is raised until the axis moves. */
const raising = ['bump', 'jogPlus', 'jogMinus'] as const;

/** Under which label a step keeps the torque limit that it was made with. */
export const torqueLabel = 'Torque limit';

/**
 * The torque limit of a motion: that of the start, or the higher one with which a step has moved it; `next` is what to try when it does
 * not move, undefined where the planned limit is reached.
 */
export function motionTorque({
  guide,
  results,
  given,
}: {
  readonly guide: AxisGuide;
  readonly results: Readonly<
    Partial<Record<string, { readonly values: readonly { readonly label: string; readonly value: number }[] }>>
  >;
  readonly given: Readonly<Record<string, number>>;
}): (StartTorque & { readonly next: number | undefined }) | { readonly because: string } {
  const start = startTorque(guide);
  if (!('percent' in start)) return start;
  const most = Math.max(
    start.percent,
    Math.min(guide.plannedTorqueLimit ?? start.percent, mostOfRated, brakeTestPercent(guide) ?? Infinity),
  );
  const kept = Math.max(
    0,
    ...raising.map((step) => results[step]?.values.find(({ label }) => label === torqueLabel)?.value ?? 0),
  );
  const percent = Math.min(most, Math.max(start.percent, kept, given.torque ?? 0));
  return {
    percent,
    because: percent > start.percent ? 'raised for friction' : start.because,
    next: percent < most ? Math.min(most, Math.ceil((raise * percent) / 5) * 5) : undefined,
  };
}
/**
 * % of rated torque that a holding brake is tested with: 90 % of what it is rated for, but not above what the motor is rated for; common
 * practice. A motor that may push harder goes through a brake that is shut. undefined: there is no brake, or it is not known.
 */
export function brakeTestPercent({ brake, ratedTorque }: AxisGuide): number | undefined {
  return brake.torque === null || ratedTorque === null
    ? undefined
    : Math.min(100, Math.floor((90 * brake.torque) / ratedTorque));
}

/** % that no first motion needs more of. */
const mostOfRated = 200;

/** Axis units of the first motion: the larger of 20 counts and 1° of the motor; of a linear motor 20 counts or 0.1 mm. */
export const bumpDistance = ({ unitsPerTurn, isLinearMotor }: AxisGuide, unitsPerCount: number): number =>
  Math.max(20 * Math.abs(unitsPerCount), isLinearMotor ? 0.1 : unitsPerTurn / 360);

/** s until a person who watches has let go; common practice. */
export const reactionTime = 0.5;

/** rad/s² with which the torque limit brakes, in the worse direction; undefined: not known. */
function brakingBy({ train }: AxisGuide, torque: number, wanted: number): number | undefined {
  if (!train) return undefined;
  const speed = 1;
  const stops = ([1, -1] as const).map((sense) =>
    stopping({ train, speed, sense }, [{ seconds: Infinity, by: { deceleration: wanted, torqueLimit: torque } }]),
  );
  const times = stops.map((stop) => stop?.time ?? Infinity);
  return speed / Math.max(...times);
}

export interface StartSpeed {
  /** axis units/s */
  readonly speed: number;
  readonly limitedBy: string;
  /** axis units from letting go to rest, at the worst */
  readonly stopping: number;
}

/**
 * The speed of the first jogs: the least of 2 motor turns a second, 2 m/min of a linear axis, the limit of any jog, and that whose way
 * in reaction time, watchdog and ramp, with the torque limit in force, is a quarter of the room from mid-travel.
 * @param watchdog s
 */
export function startSpeed(guide: AxisGuide, watchdog: number): StartSpeed | { readonly because: string } {
  const { unitsPerTurn, isLinearMotor, unit, jogLimit, jogAcceleration, radiansPerUnit, ratedTorque, travel } = guide;
  const torque = startTorque(guide);
  if (!('percent' in torque)) return torque;
  const wanted = jogAcceleration * radiansPerUnit;
  const possible = brakingBy(guide, (torque.percent / 100) * (ratedTorque ?? 0), wanted);
  const deceleration = (possible ?? wanted) / radiansPerUnit;
  if (!(deceleration > 0))
    return {
      because: `A torque limit of ${shown(torque.percent)} % cannot brake this axis. Raise the planned limit, or correct the plates`,
    };
  const time = reactionTime + watchdog;
  const limits: [speed: number, by: string][] = [];
  if (jogLimit !== null) limits.push([jogLimit, 'the limit of jogging']);
  if (!isLinearMotor) limits.push([2 * unitsPerTurn, 'two motor turns a second']);
  if (unit === 'mm') limits.push([2000 / 60, '2 m/min']);
  // v·t + v²/(2·a) = room/4
  if (travel !== null)
    limits.push([
      deceleration * (Math.sqrt(time ** 2 + travel / 4 / deceleration) - time),
      'stopping within a quarter of the room',
    ]);
  const [first, ...more] = limits;
  if (!first) return { because: 'Nothing is known that limits its speed. Enter the top speed of the motor' };
  const [speed, limitedBy] = more.reduce((least, each) => (each[0] < least[0] ? each : least), first);
  if (!(speed > 0 && Number.isFinite(speed)))
    return {
      because: `No speed is left for a first jog, limited by: ${limitedBy}. Check travel, jog limit and top speed`,
    };
  return { speed: rounded(speed), limitedBy, stopping: speed * time + speed ** 2 / (2 * deceleration) };
}

/** s from the trip until the power stage is off; common practice. */
const tripTime = 0.005;

/** Axis units that the first motion may run away before the drive trips and the axis has come to rest; undefined: nothing is known to stop it. */
export function worstRunaway(guide: AxisGuide, bump: number): number | undefined {
  const { train, ratedTorque, followingErrorWindow, radiansPerUnit } = guide;
  const torque = startTorque(guide);
  if (!train || !ratedTorque || followingErrorWindow === null || !('percent' in torque)) return undefined;
  const window = (followingErrorWindow + bump) * radiansPerUnit;
  const rest = runawayAtRest(train, (torque.percent / 100) * ratedTorque, window, tripTime, offPhases(guide));
  return rest === undefined ? undefined : rest / radiansPerUnit;
}

/** An axis without power: it coasts, and a brake that the drive feeds shuts after its delay. */
export function offPhases({ brake }: AxisGuide): readonly StopPhase[] {
  const isShutByDrive = brake.drivenBy === 'drive' && brake.torque !== null && brake.engageDelay !== null;
  if (!isShutByDrive) return [{ seconds: Infinity, by: { torque: 0 } }];
  return [
    { seconds: brake.engageDelay ?? 0, by: { torque: 0 } },
    { seconds: Infinity, by: { torque: brake.torque ?? 0 } },
  ];
}

/** What a slow jog lags behind: speed over gain, less what the feedforward takes away; undefined: not known. */
export const steadyLag = ({ positionGain, velocityFeedforward }: AxisGuide, speed: number): number | undefined =>
  positionGain === null ? undefined : (speed * (1 - (velocityFeedforward ?? 0) / 100)) / positionGain;

const shown = (value: number): string => formatNumber(value, 3);

/** Three digits, rounded down: what is shown is what is done. */
function rounded(speed: number): number {
  const step = 10 ** (Math.floor(Math.log10(speed)) - 2);
  return Number((Math.floor(speed / step + 1e-9) * step).toPrecision(3));
}
