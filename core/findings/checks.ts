import { loadSign } from '../chain/index.ts';
import { compareRational, formatNumber, isWhole, rationalToText, toNumber, toRational } from '../quantity/index.ts';
import { valueOf } from '../sheet/index.ts';
import type { Check } from './finding.ts';

const n = (value: number) => formatNumber(value, 5);

export const controllerRateExceeded: Check = ({ input, results, quantity }) => {
  const [rate, limit] = [valueOf(results.pulseRateAtWantedSpeed), valueOf(input.controllerPulseRate)];
  if (rate === undefined || limit === undefined || rate <= limit) return [];
  const reached = valueOf(results.speedAtControllerRate) ?? 0;
  return [
    {
      id: 'controllerRateExceeded',
      severity: 'stop',
      station: 'controller',
      path: '/controller/maximumPulseRate',
      message: `The wanted speed needs ${n(rate)} pulses/s; the controller sends at most ${n(limit)}, which is ${quantity(reached, '{u}/s')}.`,
      remedy:
        'Choose a coarser resolution from the range below, a lower speed, or a controller with a higher pulse rate.',
    },
  ];
};

export const driveRateExceeded: Check = ({ input, results }) => {
  const [rate, limit] = [valueOf(results.pulseRateAtWantedSpeed), valueOf(input.driveInputRate)];
  if (rate === undefined || limit === undefined || rate <= limit) return [];
  return [
    {
      id: 'driveRateExceeded',
      severity: 'stop',
      station: 'drive',
      path: '/command/electrical',
      message: `The wanted speed needs ${n(rate)} pulses/s; the drive’s input takes at most ${n(limit)} with this kind of line.`,
      remedy: 'Use a differential line where both ends have one, a coarser resolution, or a lower speed.',
    },
  ];
};

export const motorOverspeed: Check = ({ input, results }) => {
  const [speed, limit] = [valueOf(results.motorSpeedAtWantedSpeed), valueOf(input.motorTopSpeed)];
  if (speed === undefined || limit === undefined || speed <= limit) return [];
  return [
    {
      id: 'motorOverspeed',
      severity: 'stop',
      station: 'motor',
      path: '/wanted/speed',
      message: `The wanted speed turns the motor at ${n(speed)} rpm; it may turn at ${n(limit)} rpm.`,
      remedy: 'Lower the wanted speed, or gear the motor down less.',
    },
  ];
};

export const gearOutsideLimits: Check = ({ results }) => {
  const [numerator, denominator, limits] = [
    valueOf(results.gearNumerator),
    valueOf(results.gearDenominator),
    valueOf(results.gearLimits),
  ];
  if (!numerator || !denominator || !limits) return [];
  const wrong: string[] = [];
  if (toRational(numerator).numerator > limits.numeratorMax)
    wrong.push(`the numerator may be at most ${limits.numeratorMax}`);
  if (toRational(denominator).numerator > limits.denominatorMax)
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
      message: `The drive does not take this electronic gear ratio: ${wrong.join('; ')}.`,
      remedy: 'Adopt one of the fractions listed, which all fit.',
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
      message: `The ratio is off by ${n(error)} ppm and this axis turns on and on: ${quantity(drift, '{u}')} after a thousand turns, without bound.`,
      remedy:
        'Choose a resolution whose ratio fits exactly, such as whole pulses per turn of the load, or home again at every turn.',
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
        `The gear gives ${n(Math.abs(error))} ppm ${error > 0 ? 'more' : 'less'} travel a pulse than the wanted resolution` +
        (drift === undefined ? '.' : `: ${quantity(Math.abs(drift), '{u}')} over the whole travel.`),
      remedy: 'Adopt the nearest fraction, or give the controller the steps per unit computed here.',
    },
  ];
};

export const counterWraps: Check = ({ input, results }) => {
  const [turns, time] = [valueOf(results.turnsToWrap), valueOf(results.timeToWrap)];
  const [travel, L, i] = [valueOf(results.travel), valueOf(results.travelPerTurn), valueOf(results.transmissionRatio)];
  if (turns === undefined || time === undefined || !L || !i) return [];
  const needed = input.endless ? Infinity : travel ? (toNumber(travel) * toNumber(i)) / toNumber(L) : 0;
  if (needed <= turns) return [];
  return [
    {
      id: 'counterWraps',
      severity: input.endless ? 'warn' : 'stop',
      station: 'drive',
      path: '/drive/counterBits',
      message: `The drive’s position counter wraps after ${n(turns)} motor turns, ${n(time)} s at the motor’s highest speed.`,
      remedy: input.endless
        ? 'Make sure the controller works with differences of position, or command whole turns and clear the counter.'
        : 'Use a lower encoder resolution in the drive, or shorten the travel.',
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
      message: `Each pulse is a step of ${n(toNumber(ratio))} counts (${quantity(toNumber(resolution), '{u}')}); at low speed the motor moves in such steps.`,
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
  if (toNumber(feedback) > limit) {
    return [
      {
        id: 'resolutionTooCoarse',
        severity: 'warn',
        station: 'motor',
        path: '/motor/encoder',
        message: `One encoder count is ${quantity(toNumber(feedback), '{u}')}, coarser than the ${quantity(toNumber(wanted), '{u}')} wanted.`,
        remedy: 'Use an encoder with more lines or bits, or gear the motor down more.',
      },
    ];
  }
  if (toNumber(command) <= limit) return [];
  return [
    {
      id: 'resolutionTooCoarse',
      severity: 'warn',
      station: 'drive',
      path: '/gear/numerator',
      message: `One pulse is ${quantity(toNumber(command), '{u}')}, coarser than the ${quantity(toNumber(wanted), '{u}')} wanted.`,
      remedy: 'Lower N/D, as far as the pulse rate allows.',
    },
  ];
};

export const plusMovesMinus: Check = ({ stations }) =>
  loadSign(stations) === 1
    ? []
    : [
        {
          id: 'plusMovesMinus',
          severity: 'warn',
          station: 'load',
          path: '/command/inverted',
          message: 'A plus command moves the load to the minus end: the limit that is hit first is then the wrong one.',
          remedy:
            'Invert the command or the motor’s rotation sense in the drive, not both; or correct the reversals of the stages.',
        },
      ];

export const highInertiaRatio: Check = ({ results }) => {
  const ratio = valueOf(results.inertiaRatio);
  if (ratio === undefined || ratio <= 10) return [];
  return [
    {
      id: 'highInertiaRatio',
      severity: ratio > 30 ? 'warn' : 'note',
      station: 'load',
      path: '/load',
      message: `The load is ${n(ratio)} times the rotor’s inertia. Factory gains suit about 0.6 to 2 (common practice).`,
      remedy: 'Enter the inertia ratio in the drive and tune; a higher gear ratio lowers it with its square.',
    },
  ];
};

export const torqueExceeded: Check = ({ input, results }) => {
  const [peak, rms] = [valueOf(results.testMovePeakTorque), valueOf(results.testMoveRmsTorque)];
  const [peakLimit, rated] = [valueOf(input.peakTorque), valueOf(input.ratedTorque)];
  const found: ReturnType<Check>[number][] = [];
  if (peak !== undefined && peakLimit !== undefined && peak > peakLimit) {
    found.push({
      id: 'peakTorqueExceeded',
      severity: 'stop',
      station: 'motor',
      path: '/testMove/acceleration',
      message: `The test move needs ${n(peak)} N·m; the motor’s peak is ${n(peakLimit)} N·m.`,
      remedy: 'Lower the acceleration of the test move.',
    });
  }
  if (rms !== undefined && rated !== undefined && rms > rated) {
    found.push({
      id: 'rmsTorqueExceeded',
      severity: 'warn',
      station: 'motor',
      path: '/testMove/dwell',
      message: `Repeated without end, the test move needs ${n(rms)} N·m RMS; the motor’s rated torque is ${n(rated)} N·m.`,
      remedy: 'Lengthen the dwell, lower the acceleration, or limit the number of repeats.',
    });
  }
  return found;
};

export const testMoveTooFast: Check = ({ results, quantity }) => {
  const [move, highest] = [valueOf(results.testMove), valueOf(results.highestSpeed)];
  if (!move || highest === undefined || move.peakSpeed <= highest * (1 + 1e-9)) return [];
  return [
    {
      id: 'testMoveTooFast',
      severity: 'stop',
      station: 'controller',
      path: '/testMove/speed',
      message: `The test move reaches ${quantity(move.peakSpeed, '{u}/s')}; the axis can do ${quantity(highest, '{u}/s')} (${valueOf(results.bindingLimits)?.join(', ') ?? ''}).`,
      remedy: 'Lower its speed.',
    },
  ];
};

export const oddPulsesPerRevolution: Check = ({ results }) => {
  const pulses = valueOf(results.pulsesPerRevolution);
  if (!pulses || isWhole(pulses)) return [];
  return [
    {
      id: 'oddPulsesPerRevolution',
      severity: 'note',
      station: 'drive',
      path: '/gear/numerator',
      message: `Pulses per revolution are not whole (${rationalToText(toRational(pulses)).slice(0, 40)}). The ratio N/D is exact; a drive that takes only whole pulses per revolution would not be.`,
      remedy: 'Key in N and D, not pulses per revolution.',
    },
  ];
};
