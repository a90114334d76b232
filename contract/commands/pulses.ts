import { keyedGear, type AxisInput, type AxisValues } from '@kavrid/core/chain';
import type { ParameterRole, PlannedSetting } from '@kavrid/core/drive';
import { exact, type Exact } from '@kavrid/core/quantity';
import { all, valueOf, type Evaluation } from '@kavrid/core/sheet';
import { formWords, pulseWires, type PulseForm } from '@kavrid/core/signal';
import type { CommandDocument, PulseCommand } from '../commandDocument.ts';
import type { CommandForm } from '../library/driveEntry.ts';
import { exactNumber, number, word } from '../toCore/plannedSetting.ts';
import { invertedBefore, type CommandDocumentOf, type CommandFace, type Planned } from './commandFace.ts';

type Results = Evaluation<AxisValues>;

/** Whether pulses command the axis, in whatever form. */
export const isPulseCommand = (command: CommandDocument): command is PulseCommand => 'electrical' in command;

/** What pulses look like on the wire: the kind of the command, or the form of an untimed train. */
export const formOf = (command: PulseCommand): PulseForm =>
  command.kind === 'untimedPulses' ? command.form : command.kind;

/** What a pulse command takes over from the one before it. */
const lineBefore = (before: Partial<CommandDocument>): Pick<PulseCommand, 'electrical' | 'inverted'> => ({
  electrical: 'electrical' in before && before.electrical ? before.electrical : 'differential',
  inverted: invertedBefore(before),
});

/** The ratio in the drive's own form; the other forms stay unplanned. */
function gearPlan(input: AxisInput, results: Results): Partial<Record<ParameterRole, PlannedSetting | undefined>> {
  const given = valueOf(all<[Exact, Exact]>(results.gearNumerator, results.gearDenominator));
  // A fraction is keyed as it is; every other form counts from the encoder.
  const counts = valueOf(results.countsPerRevolution);
  if (!given || (!counts && input.ratioForm !== 'numerator and denominator')) return {};
  const keying = keyedGear(input, counts ?? exact(1), ...given);
  switch (keying.kind) {
    case 'ratio':
      return {
        gearNumerator: exactNumber(exact(keying.above), ''),
        gearDenominator: exactNumber(exact(keying.below), ''),
      };
    case 'pulsesPerRevolution':
      return { pulsesPerRevolution: exactNumber(keying.pulses, 'pulses') };
    case 'switches':
      return { pulsesPerRevolution: { kind: 'switches', positions: keying.switches } };
    case 'multiplier':
      return { gearMultiplier: exactNumber(keying.multiplier, '') };
    case 'impossible':
      return {};
  }
}

/** What all pulse commands have in common. */
const pulses = (form: CommandForm) => ({
  read: () => ({ kind: 'pulses' }) as const,
  driveSettings: (command: PulseCommand, { axis, input, results }: Planned) => ({
    ...gearPlan(input, results),
    commandSource: word('pulses'),
    pulseForm: word(formWords[formOf(command)]),
    pulseActiveLevel: word(axis.signal.controllerActive),
  }),
  controllerSettings: (command: PulseCommand, { axis, input, results, travel }: Planned) => ({
    stepsPerUnit: exactNumber(valueOf(results.stepsPerUnit), `pulses/${input.axisUnit}`, travel),
    pulseForm: word(formWords[formOf(command)]),
    pulseActiveLevel: word(axis.signal.controllerActive),
    pulseWidth: number(axis.signal.pulseWidth, 's'),
    directionSetUp: number(axis.signal.directionSetUp, 's'),
  }),
  wires: (command: PulseCommand) => pulseWires(formOf(command), command.electrical),
  form: () => form,
});

export const stepDirectionCommand: CommandFace<CommandDocumentOf<'stepDirection'>> = {
  ...pulses('step and direction'),
  make: (before) => ({ kind: 'stepDirection', ...lineBefore(before) }),
};

export const clockwisePulsesCommand: CommandFace<CommandDocumentOf<'clockwisePulses'>> = {
  ...pulses('clockwise and counter-clockwise pulses'),
  make: (before) => ({ kind: 'clockwisePulses', ...lineBefore(before) }),
};

export const quadratureCommand: CommandFace<CommandDocumentOf<'quadrature'>> = {
  ...pulses('quadrature'),
  make: (before) => ({ kind: 'quadrature', ...lineBefore(before) }),
};

const trains = pulses('untimed pulse train');

/** A train at one fixed rate, whose profile the drive makes. */
export const untimedPulsesCommand: CommandFace<CommandDocumentOf<'untimedPulses'>> = {
  ...trains,
  controllerSettings: (command, planned) => {
    const train = planned.input.train && valueOf(planned.input.train);
    return {
      ...trains.controllerSettings(command, planned),
      trainPulses: number(train?.pulses, 'pulses'),
      trainRate: number(train?.rate, 'pulses/s'),
      trainPeriod: number(train?.repeatPeriod, 's'),
    };
  },
  make: (before) => ({
    kind: 'untimedPulses',
    ...lineBefore(before),
    form: 'stepDirection',
    pulses: '',
    rate: null,
    repeatPeriod: null,
    speedLimit: null,
    acceleration: null,
    smoothing: 0,
  }),
};
