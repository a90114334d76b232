import { formatNumber, toNumber } from '../../quantity/index.ts';
import { valueOf } from '../../sheet/index.ts';
import { formMismatch, formWords, lineResult } from '../../signal/index.ts';
import { when, type Check } from '../finding.ts';

const microseconds = (seconds: number) => `${formatNumber(seconds * 1e6, 3)} µs`;

export const formsDiffer: Check = ({ input }) => {
  const { form, driveForm } = input.signal;
  const mismatch = formMismatch(form, driveForm);
  if (!mismatch) return [];
  return [
    {
      id: 'formsDiffer',
      severity: 'stop',
      station: 'drive',
      path: '/signal/driveForm',
      message: `The controller sends ${formWords[form]}, but the drive is set to ${formWords[driveForm]}: ${mismatch.words}.`,
      remedy: 'Set the same pulse form at both ends.',
    },
  ];
};

export const pulseEdgesDiffer: Check = ({ input: { signal } }) =>
  when(signal.controllerActive !== signal.driveActive && signal.form !== 'quadrature', {
    id: 'pulseEdgesDiffer',
    severity: 'warn',
    station: 'drive',
    path: '/signal/driveActive',
    message:
      'The active pulse levels of controller and drive differ: each pulse is counted at its trailing edge, when the direction may already have changed, and an increment is lost or gained at every reversal.',
    remedy: 'Set the same active level at both ends, or swap the two wires of the pulse line.',
  });

export const pulseTooShort: Check = ({ input: { signal } }) => {
  const needed = valueOf(signal.needed);
  const width = signal.sent.pulseWidth;
  if (!needed || width === undefined) return [];
  return when(width < needed.minimumPulseWidth * (1 - 1e-9), {
    id: 'pulseTooShort',
    severity: 'stop',
    station: 'drive',
    path: '/signal/pulseWidth',
    message: `The controller’s pulses are ${microseconds(width)} wide; the drive needs at least ${microseconds(needed.minimumPulseWidth)}.`,
    remedy: 'Lengthen the pulses in the controller.',
  });
};

export const directionTooLate: Check = ({ input: { signal } }) => {
  const needed = valueOf(signal.needed);
  if (!needed || signal.form === 'quadrature') return [];
  return when(signal.sent.directionSetUp < needed.directionSetUp * (1 - 1e-9), {
    id: 'directionTooLate',
    severity: 'warn',
    station: 'drive',
    path: '/signal/directionSetUp',
    message: `The direction changes ${microseconds(signal.sent.directionSetUp)} before the next pulse; the drive needs ${microseconds(needed.directionSetUp)}. At each reversal an increment can go the wrong way, and the position drifts.`,
    remedy: 'Lengthen the direction set-up time in the controller.',
  });
};

export const widthLimitsRate: Check = ({ results, quantity }) => {
  const [rate, limit] = [valueOf(results.pulseRateAtWantedSpeed), valueOf(results.pulseWidthRate)];
  const steps = valueOf(results.stepsPerUnit);
  if (rate === undefined || limit === undefined || !steps || rate <= limit) return [];
  const reached = limit / toNumber(steps);
  return [
    {
      id: 'widthLimitsRate',
      severity: 'stop',
      station: 'drive',
      path: '/drive/minimumPulseWidth',
      message: `The wanted speed needs ${formatNumber(rate, 5)} pulses/s; with the pulse widths of both ends, at most ${formatNumber(limit, 5)} pulses/s are possible: ${quantity(reached, '{u}/s')}.`,
      remedy: 'Shorten the pulses to what the drive needs, choose a coarser resolution, or lower the speed.',
    },
  ];
};

export const lineDoesNotFit: Check = ({ input: { signal } }) => {
  const line = valueOf(lineResult(signal.circuit));
  if (!line || line.fit === 'fits') return [];
  const { resistor } = line;
  const bare = valueOf(lineResult({ ...signal.circuit, cableResistance: 0 }));
  const useful = resistor
    ? `Add ${formatNumber(resistor.ohms, 3)} Ω (${formatNumber(resistor.rating, 3)} W) to the line: the current is then ${formatNumber(resistor.current * 1000, 3)} mA.`
    : line.fit === 'too weak' && bare?.fit === 'fits' && bare.current !== undefined
      ? `Remove the resistor from the cable: the current is then ${formatNumber(bare.current * 1000, 3)} mA.`
      : 'Choose an output, a supply voltage and an input that match.';
  return [
    {
      id: line.fit === 'ruinous' ? 'lineRuinous' : line.fit === 'too weak' ? 'lineTooWeak' : 'lineDoesNotFit',
      severity: 'stop',
      station: 'controller',
      path: '/cable/resistor',
      message: `The pulse line: ${line.because}.`,
      remedy: useful,
    },
  ];
};

export const differentialAdvised: Check = ({ input: { signal } }) =>
  when(
    signal.electrical === 'singleEnded' && signal.driveTakesDifferential && signal.outputs.includes('differential'),
    {
      id: 'differentialAdvised',
      severity: 'note',
      station: 'controller',
      path: '/command/electrical',
      message:
        'Both ends have differential terminals, which allow far higher rates and tolerate far more noise than single-ended ones.',
      remedy: 'Use the differential terminals at both ends.',
    },
  );

export const outputIsMissing: Check = ({ input: { signal } }) =>
  when(signal.outputs.length > 0 && !signal.outputs.includes(signal.circuit.output), {
    id: 'outputIsMissing',
    severity: 'stop',
    station: 'controller',
    path: '/signal/output',
    message: `The controller has no output of the type “${signal.circuit.output}”; it has: ${signal.outputs.join(', ')}.`,
    remedy: 'Select one of these.',
  });

export const referenceMissing: Check = ({ input: { signal } }) =>
  when(!signal.commonReference && signal.circuit.output !== 'open collector, sinking', {
    id: 'referenceMissing',
    severity: 'warn',
    station: 'controller',
    path: '/cable/commonReference',
    message:
      'The 0 V terminals of controller and drive are not connected: the line has no common reference, and its levels float.',
    remedy: 'Connect the signal 0 V of both ends, at one point.',
  });

/** Longest single-ended pulse line in metres, and the length from which a fast differential one should be terminated (common practice). */
const longSingleEnded = 3;
const longDifferential = 10;

export const cableTooLong: Check = ({ input: { signal } }) => {
  const { cableLength, electrical, shield, termination } = signal;
  if (cableLength === undefined) return [];
  const isDifferential = electrical === 'differential';
  return [
    ...when(!isDifferential && cableLength > longSingleEnded, {
      id: 'cableTooLong',
      severity: 'warn',
      station: 'controller',
      path: '/cable/length',
      message: `A single-ended pulse line of ${formatNumber(cableLength, 3)} m can pick up noise as pulses; at most ${longSingleEnded} m is common practice.`,
      remedy: 'Shorten it, or use differential lines.',
    }),
    ...when(isDifferential && cableLength > longDifferential && termination === undefined, {
      id: 'lineNotTerminated',
      severity: 'note',
      station: 'drive',
      path: '/cable/termination',
      message: `A differential line of ${formatNumber(cableLength, 3)} m without termination reflects its pulses.`,
      remedy: 'Terminate it at the drive with 100 to 120 Ω (TIA/EIA-422-B).',
    }),
    ...when(shield === 'none', {
      id: 'cableNotShielded',
      severity: cableLength > 1 ? 'warn' : 'note',
      station: 'controller',
      path: '/cable/shield',
      message:
        'The pulse cable has no shield; a motor cable nearby carries fast voltage edges that it can pick up as pulses.',
      remedy: 'Use a shielded cable with twisted pairs, away from the motor cable.',
    }),
  ];
};
