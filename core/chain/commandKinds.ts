import { divide, exact, exactRatio, multiply, rationalFromNumber, type Exact } from '../quantity/index.ts';
import { all, known, map, type Evaluation, type Outcome } from '../sheet/index.ts';
import type { AxisInput } from './axisInput.ts';
import type { AxisSheetKind, AxisValues } from './axisValues.ts';
import type { CommandByKind, CommandInput, CommandKind, ScaledCommand } from './commandInput.ts';
import type { Station } from './station.ts';

/** What a value is on its way through the chain of an axis: a way, a speed, or a torque. */
export type Carried = 'way' | 'speed' | 'torque';

/** What the two ends of a command are worked out from. */
interface Ends {
  readonly input: AxisInput;
  readonly results: Evaluation<AxisValues>;
  /** What leaves the motor for one axis unit of the load. */
  readonly motor: Outcome<Exact>;
  readonly sign: 1 | -1;
}

/** What a kind of command makes of an axis. */
interface CommandFacet<C> {
  /** The sheet that works the axis out. */
  readonly sheet: AxisSheetKind;
  /** An electronic gear stands between command and motor. */
  readonly hasGear: boolean;
  readonly carried: (command: C) => Carried;
  /** What leaves the controller, and what leaves the drive. */
  readonly ends: (command: C, ends: Ends) => readonly [Pick<Station, End>, Pick<Station, End>];
}
type End = 'leaves' | 'perLoadUnit' | 'atZero';

const countsFor = ({ motor, results }: Ends) =>
  map(all<[Exact, Exact]>(motor, results.countsPerRevolution), ([turns, counts]) => multiply(turns, counts));

const scaled: CommandFacet<ScaledCommand> = {
  sheet: 'scaled',
  hasGear: false,
  carried: ({ meaning }) => (meaning === 'position' ? 'way' : meaning),
  ends: ({ meaning, range }, ends) => {
    const { input, results, motor } = ends;
    const value = {
      position: known(exact(1)),
      speed: motor,
      torque: map(all<[Exact, number]>(motor, input.ratedTorque), ([torque, rated]) =>
        divide(multiply(torque, exact(100)), exactRatio(rationalFromNumber(rated))),
      ),
    }[meaning];
    const leaves = { position: 'counts', speed: input.motorForm === 'linear' ? 'mm/s' : 'rpm', torque: '%' };
    return [
      {
        leaves: range.unit,
        perLoadUnit: map(all<[Exact, Exact]>(value, results.signalGain), ([each, gain]) => divide(each, gain)),
        atZero: results.signalAtZero,
      },
      { leaves: leaves[meaning], perLoadUnit: meaning === 'position' ? countsFor(ends) : value },
    ];
  },
};

const commandKinds: { readonly [K in CommandKind]: CommandFacet<CommandByKind[K]> } = {
  pulses: {
    sheet: 'pulses',
    hasGear: true,
    carried: () => 'way',
    ends: (_, ends) => [
      { leaves: 'pulses', perLoadUnit: ends.results.stepsPerUnit },
      { leaves: 'counts', perLoadUnit: countsFor(ends) },
    ],
  },
  analog: scaled,
  pwm: scaled,
  choice: {
    sheet: 'choice',
    hasGear: false,
    carried: () => 'way',
    ends: (_, ends) => [
      { leaves: ends.input.axisUnit, perLoadUnit: known(exact(1)) },
      { leaves: 'counts', perLoadUnit: countsFor(ends) },
    ],
  },
};

const of = <K extends CommandKind, T>(
  kind: K,
  command: CommandByKind[K],
  ask: (facet: CommandFacet<CommandByKind[K]>, command: CommandByKind[K]) => T,
): T => ask(commandKinds[kind], command);

export const sheetKindOf = ({ kind }: CommandInput): AxisSheetKind => commandKinds[kind].sheet;

/** Whether an electronic gear stands between a command and the motor. */
export const hasGear = ({ kind }: CommandInput): boolean => commandKinds[kind].hasGear;

export const carriedBy = (command: CommandInput): Carried =>
  of(command.kind, command, (facet, each) => facet.carried(each));

/** The controller and the drive, by what goes between them. */
export function commandEnds(ends: Ends): readonly [Station, Station] {
  const { input, sign } = ends;
  const [controller, drive] = of(input.command.kind, input.command, (facet, command) => facet.ends(command, ends));
  return [
    { id: 'controller', kind: 'controller', sign, ...controller },
    { id: 'drive', kind: 'drive', sign, ...drive },
  ];
}
