import type { CommandDocument, PulseCommand } from '@kavrid/contract';
import type { CommandInput, ScaledCommand } from '@kavrid/core/chain';
import type { ComponentType, ReactNode } from 'react';
import type { SignalTopic } from '../member/signalTopics.ts';
import { Hint } from '../ui/fieldParts.tsx';
import { Panel } from '../ui/Panel.tsx';
import { AxisScale } from './AxisScale.tsx';
import { ChoiceDriveFields, ChoiceInputFields } from './fields/ChoiceInputFields.tsx';
import { GearFields, GearSets, PulseInputFields } from './fields/GearFields.tsx';
import { formLabels, PulseLineFields, TrainFields } from './fields/PulseFields.tsx';
import { ScaledDriveFields, ScaledFields } from './fields/ScaledFields.tsx';
import { GearChoices } from './GearChoices.tsx';
import type { ResultGroup } from './resultGroup.ts';

type Kind = CommandDocument['kind'];
type Of<K extends Kind> = Extract<CommandDocument, { readonly kind: K }>;
type Part<C> = (props: { readonly command: C }) => ReactNode;

/** How a kind of command looks: its fields at both ends, its results, and what has to be settled about its signals. */
interface CommandFace<C> {
  readonly label: string;
  readonly ControllerFields: Part<C>;
  /** Fields of the drive: above, among and below those that all have. */
  readonly drive: { readonly Above?: Part<C>; readonly Fields?: Part<C>; readonly Below?: Part<C> };
  readonly groups: (input: CommandInput) => readonly ResultGroup[];
  /** What to choose among, beside the results. */
  readonly Choices?: ComponentType;
  readonly topics: readonly SignalTopic[];
}

const mechanics = ['countsPerRevolution', 'transmissionRatio', 'travelPerTurn'] as const;

const pulses = {
  ControllerFields: PulseLineFields,
  drive: { Above: GearFields, Fields: PulseInputFields, Below: GearSets },
  groups: () => [
    { title: 'Scaling', symbols: [...mechanics, 'countsPerPulse', 'pulsesPerRevolution', 'stepsPerUnit'] },
    {
      title: 'Resolution',
      symbols: [
        'commandResolution',
        'feedbackResolution',
        'wantedRatio',
        'ratioError',
        'driftOverTravel',
        'driftPerThousandTurns',
      ],
    },
    {
      title: 'Speed',
      symbols: [
        'highestSpeed',
        'bindingLimits',
        'speedAtControllerRate',
        'speedAtDriveRate',
        'speedAtMotor',
        'pulseRateAtWantedSpeed',
        'motorSpeedAtWantedSpeed',
      ],
    },
  ],
  Choices: GearChoices,
  topics: ['direction', 'pulses', 'levels', 'protection', 'wires'],
} as const satisfies Omit<CommandFace<PulseCommand>, 'label'>;

const scaledGroups = (command: ScaledCommand): readonly ResultGroup[] => [
  {
    title: 'Scale',
    symbols: ['signalGain', 'valueAtFullSignal', 'signalAtZero'],
    optional: ['valueAtLeastSignal', 'signalAtWantedSpeed', 'deadbandValue', 'creepOffset', 'creepTrim'],
  },
  {
    title: 'Resolution',
    symbols: ['valueStep', 'coarserEnd'],
    optional: ['loadStep', 'controllerSignalStep', 'driveSignalStep', 'feedbackResolution', 'carrierPeriod'],
  },
  ...(command.pulses
    ? [{ title: 'The drive’s whole numbers', symbols: ['rawNumerator', 'rawDenominator', 'rawOffset'] } as const]
    : []),
  {
    title: 'Speed',
    symbols: ['highestSpeed', 'bindingLimits'],
    optional: ['fullCommandSpeed', 'speedAtMotor', 'motorSpeedAtWantedSpeed'],
  },
  ...(command.hostLoop
    ? [
        {
          title: 'Position loop in the controller',
          symbols: [
            'encoderDivider',
            'hostCountsPerUnit',
            'hostResolution',
            'encoderRateAtWantedSpeed',
            'encoderRateAtFullCommand',
            'errorOfOneStep',
            'hostDamping',
            'runawaySpeed',
            'runawayDistance',
          ],
        } as const,
      ]
    : []),
  { title: 'Mechanics', symbols: mechanics },
];

const Scale = () => (
  <Panel title="Scale">
    <AxisScale />
  </Panel>
);

const scaled = {
  ControllerFields: ScaledFields,
  drive: { Fields: ScaledDriveFields },
  groups: (input: CommandInput) => ('range' in input ? scaledGroups(input) : []),
  Choices: Scale,
  topics: ['direction', 'scale', 'zero', 'cable', 'protection', 'wires'],
} as const;

const faces: { readonly [K in Kind]: CommandFace<Of<K>> } = {
  stepDirection: { label: formLabels.stepDirection, ...pulses },
  clockwisePulses: { label: formLabels.clockwisePulses, ...pulses },
  quadrature: { label: formLabels.quadrature, ...pulses },
  untimedPulses: {
    label: 'An untimed pulse train (fixed rate)',
    ...pulses,
    ControllerFields: ({ command }) => (
      <>
        <TrainFields command={command} />
        <PulseLineFields command={command} />
      </>
    ),
  },
  analog: {
    label: 'An analog signal',
    ...scaled,
    topics: ['direction', 'scale', 'zero', 'loop', 'cable', 'protection', 'wires'],
  },
  pwm: { label: 'A duty cycle (PWM)', ...scaled },
  choice: {
    label: 'Inputs that pick stored moves',
    ControllerFields: ({ command }) => (
      <>
        <ChoiceInputFields command={command} />
        <Hint>Set the move for each pattern on the page Signals.</Hint>
      </>
    ),
    drive: { Fields: ChoiceDriveFields },
    groups: () => [
      { title: 'Scaling', symbols: [...mechanics, 'feedbackResolution'] },
      {
        title: 'Speed',
        symbols: ['highestSpeed', 'bindingLimits', 'speedAtMotor', 'motorSpeedAtWantedSpeed'],
      },
    ],
    topics: ['direction', 'moves', 'cable', 'protection', 'wires'],
  },
};

export const commandChoices = (Object.keys(faces) as Kind[]).map((value) => ({ value, label: faces[value].label }));

function ControllerPart<K extends Kind>({ kind, command }: { readonly kind: K; readonly command: Of<K> }) {
  const { ControllerFields } = faces[kind];
  return <ControllerFields command={command} />;
}

/** What only a kind of command has at the controller. */
export const CommandControllerFields = ({ command }: { readonly command: CommandDocument }) => (
  <ControllerPart kind={command.kind} command={command} />
);

type DrivePart = keyof CommandFace<CommandDocument>['drive'];

function DrivePartOf<K extends Kind>(props: { readonly kind: K; readonly command: Of<K>; readonly part: DrivePart }) {
  const Fields = faces[props.kind].drive[props.part];
  return Fields && <Fields command={props.command} />;
}

/** What only it has at the drive. */
export const CommandDriveFields = (props: { readonly command: CommandDocument; readonly part: DrivePart }) => (
  <DrivePartOf kind={props.command.kind} {...props} />
);

/** What to choose among for it. */
export function CommandChoices({ command }: { readonly command: CommandDocument }) {
  const { Choices } = faces[command.kind];
  return Choices && <Choices />;
}

export const commandGroups = ({ kind }: CommandDocument, input: CommandInput): readonly ResultGroup[] =>
  faces[kind].groups(input);

/** What there is to settle about the signals. A position loop in the controller stands only over a speed. */
export const topicsFor = (command: CommandDocument): readonly SignalTopic[] =>
  faces[command.kind].topics.filter(
    (topic) => topic !== 'loop' || ('meaning' in command && command.meaning === 'speed'),
  );
