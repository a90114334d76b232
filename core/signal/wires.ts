import { homingMethodFacts, type HomingMethod } from '../homing/index.ts';
import type { AnalogRange } from './signalRange.ts';
import {
  alarmCases,
  enableCases,
  limitCases,
  type AlarmWiring,
  type EnableWiring,
  type LimitWiring,
  type SafeTorqueOff,
} from './protection.ts';
import type { PulseForm } from './pulseForm.ts';

/** What a wire can be joined to. */
export type WireEnd =
  | 'controller'
  | 'drive'
  | 'minus limit switch'
  | 'plus limit switch'
  | 'home switch'
  | 'holding brake'
  | 'motor encoder'
  | 'safety relay'
  | 'host encoder input';

/** What a broken wire does. `isSafe`: the axis stops, or cannot start, and somebody notices; undefined: neither good nor dangerous. */
export interface BrokenWire {
  readonly effect: string;
  readonly isSafe: boolean | undefined;
}

/** One signal of an axis with its two ends. */
export interface Wire {
  /** The same for the same signal, whatever else is wired. */
  readonly key: string;
  readonly label: string;
  readonly from: WireEnd;
  readonly to: WireEnd;
  /** When its receiver takes it as active, and by which contact; absent where that is not planned. */
  readonly active?: string;
  readonly broken: BrokenWire;
  /** Pointers of the fields that decide about it. */
  readonly fields: readonly string[];
}

const wire = (
  key: string,
  label: string,
  from: WireEnd,
  to: WireEnd,
  broken: BrokenWire,
  fields: readonly string[],
): Wire => ({ key, label, from, to, broken, fields });

const command = (key: string, label: string, effect: string, isSafe?: boolean): Wire =>
  wire(key, label, 'controller', 'drive', { effect, isSafe }, ['/command', '/signal', '/cable', '/controller/output']);

const formLines: Readonly<Record<PulseForm, readonly (readonly [string, string, boolean?])[]>> = {
  stepDirection: [
    ['Pulses', 'no pulses arrive, the axis stands'],
    ['Direction', 'the axis moves in one direction only', false],
  ],
  clockwisePulses: [
    ['Clockwise pulses', 'the axis moves counter-clockwise only', false],
    ['Counter-clockwise pulses', 'the axis moves clockwise only', false],
  ],
  quadrature: [
    ['Channel A', 'the count goes to and fro by one, the axis stands'],
    ['Channel B', 'the count goes to and fro by one, the axis stands'],
  ],
};

/** The lines of a pulse command: differential ones have two cores each, single-ended ones a common. */
export function pulseWires(form: PulseForm, electrical: 'differential' | 'singleEnded'): readonly Wire[] {
  const lines = formLines[form].flatMap(([label, effect, isSafe], line) =>
    electrical === 'differential'
      ? [
          command(`pulse ${line} +`, `${label} +`, effect, isSafe),
          command(`pulse ${line} -`, `${label} −`, effect, isSafe),
        ]
      : [command(`pulse ${line}`, label, effect, isSafe)],
  );
  return electrical === 'singleEnded'
    ? [...lines, command('pulse common', 'Common of the pulse inputs', 'no pulses arrive, the axis stands')]
    : lines;
}

/** The lines of an analog command. */
export function analogWires(meaning: string, range: AnalogRange, isLossDetected: boolean): readonly Wire[] {
  const isTripped = range === '4–20 mA' && isLossDetected;
  const effect = isTripped ? 'the drive trips on the lost signal' : 'the input floats, the axis may creep or run away';
  return [
    command('analog +', `Analog ${meaning} command`, effect, isTripped),
    command('analog common', 'Common of the analog command', effect, isTripped),
  ];
}

export const pwmWires = (meaning: string, isLossDetected: boolean): readonly Wire[] => [
  command(
    'pwm',
    `PWM ${meaning} command`,
    isLossDetected ? 'the drive trips on the lost signal' : 'read as the shortest or the longest duty cycle',
    isLossDetected,
  ),
  command('pwm common', 'Common of the PWM command', 'no signal arrives', undefined),
];

export const choiceWires = (inputs: readonly string[]): readonly Wire[] => [
  ...inputs.map((name, index) => command(`choice ${index}`, name, 'read as low, which picks another move', false)),
  command('choice common', 'Common of the inputs', 'every input is read as low', false),
];

/** What is around a command: who enables, who stops, what tells the position. */
export interface AxisWiring {
  readonly enable: EnableWiring;
  readonly alarm: AlarmWiring;
  /** undefined: an axis without ends. */
  readonly limits: LimitWiring | undefined;
  readonly safeTorqueOff: SafeTorqueOff;
  readonly homing: { readonly by: 'drive' | 'controller'; readonly method: HomingMethod };
  readonly brake: 'not settled' | 'none' | 'drive' | 'controller';
  /** The controller closes the position loop. */
  readonly isLoopInController: boolean;
}

/** Every wire of an axis but those of its command, in the order in which they are laid. */
export function protectionWires(wiring: AxisWiring): readonly Wire[] {
  return [
    ...enableWires(wiring.enable),
    alarmWire(wiring.alarm),
    ...limitWires(wiring.limits),
    ...homeWires(wiring.homing),
    ...brakeWires(wiring.brake),
    ...torqueOffWires(wiring.safeTorqueOff),
    ...feedbackWires(wiring),
  ];
}

function enableWires(enable: EnableWiring): readonly Wire[] {
  if (!enable.isWired) return [];
  const isSafe = !enableCases(enable).some(({ situation, isEnabled }) => situation === 'broken wire' && isEnabled);
  const effect = isSafe ? 'the drive switches off' : 'the drive stays enabled';
  const fields = ['/protection/enable', '/settings/enableActiveLevel'];
  return [
    {
      ...wire('enable', 'Enable', 'controller', 'drive', { effect, isSafe }, fields),
      active: `input active ${enable.driveLevel}, controller drives ${enable.controllerLevel}`,
    },
  ];
}

const contactWords = { normallyClosed: 'normally closed', normallyOpen: 'normally open' } as const;

function alarmWire(alarm: AlarmWiring): Wire {
  const isSafe = alarmCases(alarm).some(({ situation, isSeen }) => situation === 'broken wire' && isSeen);
  const label =
    alarm.joined === 'alone' || alarm.drives < 2 ? 'Alarm' : `Alarm, ${alarm.drives} drives in ${alarm.joined}`;
  const effect = isSafe ? 'the controller sees an alarm' : 'the controller does not see alarms any more';
  return {
    ...wire('alarm', label, 'drive', 'controller', { effect, isSafe }, ['/protection/alarm']),
    active: `contact ${contactWords[alarm.contact]}`,
  };
}

function limitWires(limits: LimitWiring | undefined): readonly Wire[] {
  if (!limits) return [];
  const { brokenWireStops: isSafe } = limitCases(limits);
  const effect = isSafe ? 'the drive sees the limit as active and stops' : 'the limit does not stop the axis any more';
  const fields = ['/protection/limits', '/settings/limitActiveLevel'];
  const isCrossed = limits.plusInputAt === 'minus';
  return (['minus', 'plus'] as const).map((end) => ({
    ...wire(
      `${end} limit`,
      `${isCrossed ? (end === 'minus' ? 'Plus' : 'Minus') : end === 'minus' ? 'Minus' : 'Plus'} limit input`,
      `${end} limit switch`,
      'drive',
      { effect, isSafe },
      fields,
    ),
    active: `contact ${contactWords[limits.contact]}, input active ${limits.activeLevel}`,
  }));
}

function homeWires({ by, method }: AxisWiring['homing']): readonly Wire[] {
  const facts = homingMethodFacts(method);
  if (facts.kind !== 'edge' || facts.input !== 'homeSwitch') return [];
  const effect = 'the switch is not found; homing ends at a limit or runs on';
  return [wire('home', 'Home switch', 'home switch', by, { effect, isSafe: false }, ['/homing'])];
}

function brakeWires(brake: AxisWiring['brake']): readonly Wire[] {
  switch (brake) {
    case 'not settled':
    case 'none':
      return [];
    case 'drive':
    case 'controller': {
      const broken = { effect: 'the brake stays shut', isSafe: true };
      return [
        {
          ...wire('brake', 'Brake release', brake, 'holding brake', broken, ['/brake']),
          active: 'current opens the brake',
        },
      ];
    }
  }
}

function torqueOffWires(safeTorqueOff: SafeTorqueOff): readonly Wire[] {
  const broken = { effect: 'the drive has no torque', isSafe: true };
  const channel = (number: 1 | 2): Wire => ({
    ...wire(`safe torque off ${number}`, `Safe torque off, channel ${number}`, 'safety relay', 'drive', broken, [
      '/protection/safeTorqueOff',
    ]),
    active: 'torque only while current flows',
  });
  switch (safeTorqueOff) {
    case 'none':
    case 'bridged':
      return [];
    case 'one channel':
      return [channel(1)];
    case 'two channels':
      return [channel(1), channel(2)];
  }
}

function feedbackWires({ isLoopInController }: AxisWiring): readonly Wire[] {
  const encoder = wire(
    'encoder',
    'Motor feedback',
    'motor encoder',
    'drive',
    { effect: 'the drive trips', isSafe: true },
    ['/motor/encoder'],
  );
  if (!isLoopInController) return [encoder];
  const effect = 'the controller counts nothing and runs away until its error limit';
  return [
    encoder,
    wire('encoder output', 'Encoder output', 'drive', 'host encoder input', { effect, isSafe: false }, [
      '/command/loop',
    ]),
  ];
}

/** Where a wire ends, as typed. */
export interface WireEnds {
  readonly from: string;
  readonly to: string;
}

/** A terminal that two wires are said to end at; a common may be shared. */
export interface DoubledTerminal {
  readonly end: WireEnd;
  readonly terminal: string;
  readonly wires: readonly string[];
}

/** Terminals of one device that are given to two wires: nothing is driven twice, and nothing drives two things unseen. */
export function doubledTerminals(
  wires: readonly Wire[],
  ends: Readonly<Record<string, WireEnds>>,
): readonly DoubledTerminal[] {
  const taken = new Map<string, { end: WireEnd; terminal: string; wires: string[] }>();
  for (const { key, label, from, to } of wires) {
    if (key.includes('common')) continue;
    for (const [end, terminal] of [
      [from, ends[key]?.from ?? ''],
      [to, ends[key]?.to ?? ''],
    ] as const) {
      const name = terminal.trim();
      if (name === '') continue;
      const place = `${end} ${name.toUpperCase()}`;
      const found = taken.get(place) ?? { end, terminal: name, wires: [] };
      taken.set(place, found);
      found.wires.push(label);
    }
  }
  return [...taken.values()].filter(({ wires: labels }) => labels.length > 1);
}

/** A wire of which one terminal is named and the other is not. */
export interface LooseWire {
  readonly label: string;
  /** The end that is named, with its terminal, and the end that is not. */
  readonly end: WireEnd;
  readonly terminal: string;
  readonly open: WireEnd;
}

/** Wires that end somewhere at one device only: an input that nobody drives, or an output that leads nowhere. */
export const looseWires = (wires: readonly Wire[], ends: Readonly<Record<string, WireEnds>>): readonly LooseWire[] =>
  wires.flatMap(({ key, label, from, to }): readonly LooseWire[] => {
    const [source, target] = [ends[key]?.from.trim() ?? '', ends[key]?.to.trim() ?? ''];
    if ((source === '') === (target === '')) return [];
    return source === ''
      ? [{ label, end: to, terminal: target, open: from }]
      : [{ label, end: from, terminal: source, open: to }];
  });
