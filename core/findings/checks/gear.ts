import { keyingOf } from '../../chain/index.ts';
import { compareRational, formatNumber, isWhole, rationalToText, toNumber, toRational } from '../../quantity/index.ts';
import { valueOf } from '../../sheet/index.ts';
import { when, type Check } from '../finding.ts';

const n = (value: number) => formatNumber(value, 5);

export const gearOutsideLimits: Check = ({ input, results }) => {
  const [numerator, denominator, limits] = [
    valueOf(results.gearNumerator),
    valueOf(results.gearDenominator),
    valueOf(results.gearLimits),
  ];
  if (!numerator || !denominator || !limits) return [];
  const wrong: string[] = [];
  const byRegisters = input.ratioForm === 'numerator and denominator';
  if (byRegisters && toRational(numerator).numerator > limits.numeratorMax)
    wrong.push(`the numerator may be at most ${limits.numeratorMax}`);
  if (byRegisters && toRational(denominator).numerator > limits.denominatorMax)
    wrong.push(`the denominator may be at most ${limits.denominatorMax}`);
  const ratio = valueOf(results.countsPerPulse);
  if (
    ratio &&
    (compareRational(toRational(ratio), limits.ratioMin) < 0 || compareRational(toRational(ratio), limits.ratioMax) > 0)
  ) {
    wrong.push(`the ratio must lie between ${rationalToText(limits.ratioMin)} and ${rationalToText(limits.ratioMax)}`);
  }
  if (wrong.length === 0) return [];
  return [
    {
      id: 'gearOutsideLimits',
      severity: 'stop',
      station: 'drive',
      path: '/gear/numerator',
      message: `The drive does not accept this electronic gear ratio: ${wrong.join('; ')}.`,
      remedy: 'Use one of the fractions listed; all of them fit.',
    },
  ];
};

export const endlessNotExact: Check = ({ input, results, quantity }) => {
  const error = valueOf(results.ratioError);
  if (!input.endless || error === undefined || error === 0) return [];
  const drift = valueOf(results.driftPerThousandTurns) ?? 0;
  return [
    {
      id: 'endlessNotExact',
      severity: 'warn',
      station: 'drive',
      path: '/gear/numerator',
      message: `The ratio is off by ${n(error)} ppm and this axis is endless: ${quantity(drift, '{u}')} after a thousand turns, without bound.`,
      remedy:
        'Choose a resolution with an exact ratio, such as a whole number of pulses per turn of the load, or home again at every turn.',
    },
  ];
};

export const ratioInexact: Check = ({ input, results, quantity }) => {
  const [error, drift] = [valueOf(results.ratioError), valueOf(results.driftOverTravel)];
  if (input.endless || error === undefined || error === 0) return [];
  const resolution = valueOf(results.feedbackResolution);
  const visible = drift !== undefined && resolution !== undefined && Math.abs(drift) > toNumber(resolution);
  return [
    {
      id: 'ratioInexact',
      severity: visible ? 'warn' : 'note',
      station: 'drive',
      path: '/gear/numerator',
      message:
        `The gear gives ${n(Math.abs(error))} ppm ${error > 0 ? 'more' : 'less'} travel per pulse than the wanted resolution` +
        (drift === undefined ? '.' : `: ${quantity(Math.abs(drift), '{u}')} over the whole travel.`),
      remedy: 'Use the nearest fraction, or enter the steps per unit computed here in the controller.',
    },
  ];
};

export const coarseCommand: Check = ({ results, quantity }) => {
  const ratio = valueOf(results.countsPerPulse);
  const resolution = valueOf(results.commandResolution);
  if (!ratio || !resolution || toNumber(ratio) < 1000) return [];
  return [
    {
      id: 'coarseCommand',
      severity: 'note',
      station: 'drive',
      path: '/gear/numerator',
      message: `Each pulse is a step of ${n(toNumber(ratio))} counts (${quantity(toNumber(resolution), '{u}')}); at low speed the motor moves in steps of this size.`,
      remedy: 'Turn on command smoothing in the drive, or choose a finer resolution if the pulse rate allows.',
    },
  ];
};

export const resolutionTooCoarse: Check = ({ results, quantity }) => {
  const [wanted, command, feedback] = [
    valueOf(results.wantedResolution),
    valueOf(results.commandResolution),
    valueOf(results.feedbackResolution),
  ];
  if (!wanted || !command || !feedback) return [];
  const limit = toNumber(wanted) * 1.0001;
  return when(toNumber(command) > limit && toNumber(feedback) <= limit, {
    id: 'resolutionTooCoarse',
    severity: 'warn',
    station: 'drive',
    path: '/gear/numerator',
    message: `One pulse is ${quantity(toNumber(command), '{u}')}, coarser than the ${quantity(toNumber(wanted), '{u}')} wanted.`,
    remedy: 'Lower N/D, as far as the pulse rate allows.',
  });
};

export const oddPulsesPerRevolution: Check = ({ input, results }) => {
  const pulses = valueOf(results.pulsesPerRevolution);
  if (input.ratioForm !== 'numerator and denominator' || input.motorForm === 'linear') return [];
  if (!pulses || isWhole(pulses)) return [];
  return [
    {
      id: 'oddPulsesPerRevolution',
      severity: 'note',
      station: 'drive',
      path: '/gear/numerator',
      message: `The pulses per revolution are not a whole number (${rationalToText(toRational(pulses)).slice(0, 40)}). The ratio N/D is exact; a drive that accepts only whole pulses per revolution could not be set exactly.`,
      remedy: 'Key in N and D, not pulses per revolution.',
    },
  ];
};

export const ratioNotKeyable: Check = ({ input, results }) => {
  const keying = valueOf(keyingOf(input, results));
  if (keying?.kind !== 'impossible') return [];
  return [
    {
      id: 'ratioNotKeyable',
      severity: 'stop',
      station: 'drive',
      path: '/gear/numerator',
      message: `This ratio cannot be set: ${keying.because}.`,
      remedy: 'Use one of the ratios listed; all of them can be set.',
    },
  ];
};

export const gearSetsSwitched: Check = ({ input }) => {
  const { gearSets, gearSetsMax, gearSwitchedInMotion } = input;
  const all = gearSets.length + 1;
  if (all === 1) return [];
  return [
    ...when(all > gearSetsMax, {
      id: 'tooManyGearSets',
      severity: 'stop',
      station: 'drive',
      path: '/gear/sets',
      message: `${all} gear ratios are planned; the drive can switch between ${gearSetsMax}.`,
      remedy: 'Remove some of them.',
    }),
    ...when(!gearSwitchedInMotion, {
      id: 'gearSwitched',
      severity: 'note',
      station: 'drive',
      path: '/gear/sets',
      message:
        'After the gear ratio is switched the axis stays where it is, but the controller’s position no longer refers to the same place.',
      remedy: 'Reset the controller’s position, or home, each time the gear ratio is switched.',
    }),
  ];
};
