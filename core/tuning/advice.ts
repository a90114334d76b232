import type { MoveReading } from './readMove.ts';

/** A setting that advice can change, in the units of the plan: 1/s, rad/s, ms, %. */
export type TunedSetting =
  'positionGain' | 'speedBandwidth' | 'speedIntegralTime' | 'velocityFeedforward' | 'accelerationFeedforward';

/** What a trace says should be changed, in the order in which a loop is tuned: from the inside out. */
export interface TuningAdvice {
  readonly id: string;
  readonly severity: 'warn' | 'note';
  readonly message: string;
  readonly remedy: string;
  readonly change?: { readonly setting: TunedSetting; readonly from: number; readonly to: number };
  /** Peak following error that is expected afterwards, in axis units. */
  readonly expectedError?: number;
}

export interface TunedSettings {
  readonly positionGain: number;
  readonly speedBandwidth: number;
  /** ms */
  readonly speedIntegralTime: number;
  /** % */
  readonly velocityFeedforward: number;
  /** % of the torque that the demanded acceleration takes by the inertia ratio of the drive; undefined: it is not planned */
  readonly accelerationFeedforward: number | undefined;
  /** Axis units within which the axis counts as in position. */
  readonly inPosition: number;
}

/** Gains that keep their margins by the model, in the units of the plan; the acceleration feedforward is that of the whole inertia. */
export type SuggestedSettings = Pick<TunedSettings, 'positionGain' | 'speedBandwidth' | 'speedIntegralTime'> & {
  readonly accelerationFeedforward?: number;
};

/** By how much a gain may be below what the model suggests, and above it. */
const [slowShare, fastShare] = [0.8, 1.3];

/** Shares from which something counts; common practice. */
const [saturatedShare, lagShare, ringingShare] = [0.02, 0.15, 0.3];
/** % in which a feedforward is set. */
const finestFeedforward = 0.1;
const rounded = (value: number): number => Number(value.toPrecision(3));

/** Settings beside what the model suggests: from the inside out, as a loop is tuned. */
function againstModel(
  settings: TunedSettings,
  suggested: SuggestedSettings,
  rings: boolean,
  peakError: number,
): readonly TuningAdvice[] {
  const { positionGain, speedBandwidth, speedIntegralTime } = settings;
  const note = (
    id: string,
    setting: TunedSetting,
    [from, to]: readonly [number, number],
    message: string,
    expectedError?: number,
  ): TuningAdvice => ({
    id,
    severity: 'note',
    message,
    remedy: 'The model keeps its margins there, with inertia and stiffness off by 30 %.',
    change: { setting, from, to: rounded(to) },
    ...(expectedError === undefined ? {} : { expectedError }),
  });
  const integralRate = speedIntegralTime > 0 ? suggested.speedIntegralTime / speedIntegralTime : 0;
  return [
    // What rings is not made faster.
    ...(!rings && speedBandwidth < slowShare * suggested.speedBandwidth
      ? [
          note(
            'slowSpeedLoop',
            'speedBandwidth',
            [speedBandwidth, suggested.speedBandwidth],
            'The speed loop is slower than these mechanics allow.',
          ),
        ]
      : []),
    ...(speedBandwidth > fastShare * suggested.speedBandwidth
      ? [
          note(
            'fastSpeedLoop',
            'speedBandwidth',
            [speedBandwidth, suggested.speedBandwidth],
            'The speed loop is faster than what keeps its margins by the model.',
          ),
        ]
      : []),
    ...(integralRate < slowShare || integralRate > fastShare
      ? [
          note(
            'integralOff',
            'speedIntegralTime',
            [speedIntegralTime, suggested.speedIntegralTime],
            integralRate < slowShare
              ? 'The integral of the speed loop is slower than it may be.'
              : 'The integral of the speed loop is faster than what keeps its margins.',
          ),
        ]
      : []),
    ...(!rings && positionGain < slowShare * suggested.positionGain
      ? [
          note(
            'slowPositionLoop',
            'positionGain',
            [positionGain, suggested.positionGain],
            'The position gain is lower than the speed loop allows: the error shrinks as it rises.',
            (peakError * positionGain) / suggested.positionGain,
          ),
        ]
      : []),
    ...(positionGain > fastShare * suggested.positionGain
      ? [
          note(
            'fastPositionLoop',
            'positionGain',
            [positionGain, suggested.positionGain],
            'The position gain is higher than what keeps its margins by the model.',
          ),
        ]
      : []),
  ];
}

/** @param quantity words for a value in axis units @param suggested by the model; absent: there is none */
export function tuningAdvice(
  reading: MoveReading,
  settings: TunedSettings,
  quantity: (value: number) => string,
  suggested?: SuggestedSettings,
): readonly TuningAdvice[] {
  const { errorPerSpeed, peakError, residual, ringing, saturated = 0, creep, overshoot } = reading;
  const { positionGain, speedBandwidth, speedIntegralTime, velocityFeedforward, accelerationFeedforward, inPosition } =
    settings;
  const advice: TuningAdvice[] = [];
  const change = (setting: TunedSetting, from: number, to: number) => ({ change: { setting, from, to: rounded(to) } });
  if (saturated > saturatedShare)
    return [
      {
        id: 'saturates',
        severity: 'warn',
        message: `The torque is at its limit for ${Math.round(100 * saturated)} % of the motion: what the trace says of the loops is the limit, not the gains.`,
        remedy:
          'Lower the acceleration or the speed of the move, or raise the torque limit where motor and mechanics allow it; then record again.',
      },
    ];
  if (ringing && ringing.amplitude > Math.max(inPosition, ringingShare * overshoot))
    advice.push({
      id: 'rings',
      severity: 'warn',
      message: `It rings at ${rounded(ringing.frequency)} Hz after a stop, by ${quantity(ringing.amplitude)}.`,
      remedy: `Lower the bandwidth of the speed loop, or have a notch of the drive at ${rounded(ringing.frequency)} Hz; a gentler jerk excites it less.`,
      ...change('speedBandwidth', speedBandwidth, 0.7 * speedBandwidth),
    });
  const byModel = suggested ? againstModel(settings, suggested, advice.length > 0, peakError) : [];
  const isJudged = (setting: TunedSetting) => [...advice, ...byModel].some(({ change }) => change?.setting === setting);
  // One word about each setting: what the trace shows goes first.
  advice.push(...byModel.filter(({ change }) => !advice.some((each) => each.change?.setting === change?.setting)));
  if (creep && Math.abs(creep.error) > inPosition && !isJudged('speedIntegralTime'))
    advice.push({
      id: 'creeps',
      severity: 'note',
      message: `After a stop ${quantity(Math.abs(creep.error))} are left, a third of them after ${rounded(1000 * creep.seconds)} ms: it creeps to its target.`,
      remedy: 'Shorten the integral time of the speed loop, or raise the position gain.',
      ...(speedIntegralTime > 0 ? change('speedIntegralTime', speedIntegralTime, speedIntegralTime / 1.5) : {}),
    });
  const share = errorPerSpeed * positionGain;
  if (Math.abs(errorPerSpeed) * reading.topSpeed > lagShare * peakError) {
    const to = Math.min(100, Math.max(0, velocityFeedforward + 100 * share));
    const isLag = share > 0;
    if (Math.abs(to - velocityFeedforward) >= finestFeedforward)
      advice.push({
        id: isLag ? 'lags' : 'leads',
        severity: isLag ? 'note' : 'warn',
        message: isLag
          ? `The axis follows ${rounded(1000 * errorPerSpeed)} ms behind its demand: the error is proportional to the speed.`
          : `The axis is ${rounded(-1000 * errorPerSpeed)} ms ahead of its demand: there is too much velocity feedforward.`,
        remedy: `${isLag ? 'Raise' : 'Lower'} the velocity feedforward; a higher position gain would also reduce the error, at the cost of margin.`,
        ...change('velocityFeedforward', velocityFeedforward, to),
        expectedError: Math.min(
          peakError,
          Math.max(overshoot, residual + Math.abs(share - (to - velocityFeedforward) / 100) * peakError),
        ),
      });
  }
  const { accelerating } = reading;
  const whole = suggested?.accelerationFeedforward ?? 100;
  const from = accelerationFeedforward ?? 0;
  const isBehind = accelerating.mean > 0;
  if (accelerating.peak > lagShare * peakError && (isBehind ? from < 0.95 * whole : from > 1.05 * whole))
    advice.push({
      id: isBehind ? 'lagsAccelerating' : 'leadsAccelerating',
      severity: isBehind ? 'note' : 'warn',
      message: isBehind
        ? `While the speed changes the axis lags by up to ${quantity(rounded(accelerating.peak))}: the torque of the acceleration comes late.`
        : `While the speed changes the axis leads by up to ${quantity(rounded(accelerating.peak))}: there is too much acceleration feedforward.`,
      remedy: isBehind
        ? 'Raise the acceleration feedforward to the torque that the whole inertia takes; the inertia ratio of the drive should be right first.'
        : 'Lower the acceleration feedforward, or correct the inertia ratio of the drive.',
      ...(accelerationFeedforward === undefined ? {} : change('accelerationFeedforward', from, whole)),
      expectedError: Math.min(
        peakError,
        Math.max(overshoot, peakError - accelerating.peak, (accelerating.peak * Math.abs(from - whole)) / whole / 3),
      ),
    });
  if (!ringing && overshoot > 2 * inPosition && !isJudged('speedIntegralTime'))
    advice.push({
      id: 'overshoots',
      severity: 'note',
      message: `It overshoots its target by ${quantity(overshoot)} without ringing.`,
      remedy: 'Lengthen the integral time of the speed loop, or lower the velocity feedforward.',
      ...(speedIntegralTime > 0 ? change('speedIntegralTime', speedIntegralTime, speedIntegralTime * 1.5) : {}),
    });
  return advice;
}
