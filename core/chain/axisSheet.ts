import { divide, equals, exact, multiply, toNumber, type Exact } from '../quantity/index.ts';
import {
  all,
  evaluate,
  known,
  map,
  sheetOf,
  unknown,
  valueOf,
  type Evaluation,
  type Outcome,
  type SheetDefinition,
} from '../sheet/index.ts';
import type { StageLoss } from '../motion/index.ts';
import { rateByWidth } from '../signal/index.ts';
import type { AxisInput } from './axisInput.ts';
import type { AxisValues } from './axisValues.ts';
import { followingErrorFormulas } from './sheet/followingError.ts';
import { loadFormulas } from './sheet/load.ts';
import { mechanicsFormulas } from './sheet/mechanics.ts';
import type { ScaledCommand } from './commandInput.ts';
import { sheetKindOf } from './commandKinds.ts';
import { hostLoopFormulas } from './sheet/hostLoop.ts';
import { scaledSignalFormulas } from './sheet/scaledSignal.ts';
import { gearFormulas, scalingFormulas } from './sheet/scaling.ts';
import { pulseSpeedFormulas, speedFormulas } from './sheet/speed.ts';
import { supplyFormulas } from './sheet/supply.ts';
import { trainFormulas } from './sheet/train.ts';
import type { SpeedLimit } from './speedLimit.ts';
import {
  backDriveEfficiencyOf,
  complianceOf,
  criticalSpeedOf,
  earlierKinds,
  lastKinds,
  ratioOf,
  roleOf,
  travelFactorsOf,
} from './stages/stage.ts';

const shared = [
  ...scalingFormulas,
  ...speedFormulas,
  ...loadFormulas,
  ...mechanicsFormulas,
  ...followingErrorFormulas,
  ...supplyFormulas,
];

/** The formulas of an axis, by what commands it. */
export const axisSheets = {
  pulses: sheetOf<AxisValues>([...shared, ...gearFormulas, ...pulseSpeedFormulas, ...trainFormulas]),
  scaled: sheetOf<AxisValues>([...shared, ...scaledSignalFormulas, ...hostLoopFormulas]),
  choice: sheetOf<AxisValues>(shared),
} as const;

export const sheetFor = (input: Pick<AxisInput, 'command'>): SheetDefinition<AxisValues> =>
  axisSheets[sheetKindOf(input.command)];

const symbols = new Set(Object.values(axisSheets).flatMap(({ bySymbol }) => [...bySymbol.keys()]));

/** What a sheet has no formula for, with the reason. */
const absentFrom = (sheet: SheetDefinition<AxisValues>, because: string) =>
  Object.fromEntries([...symbols].filter((each) => !sheet.bySymbol.has(each)).map((each) => [each, unknown(because)]));

const absent = {
  pulses: absentFrom(axisSheets.pulses, 'this axis is commanded by pulses'),
  scaled: absentFrom(axisSheets.scaled, 'this axis is not commanded by pulses'),
  choice: {
    ...absentFrom(axisSheets.choice, 'the moves of this axis are selected by inputs'),
    commandLimits: known<readonly SpeedLimit[]>([]),
  },
} as const;

/** Works out an axis; with the previous evaluation only what an edit touches. */
export function evaluateAxis(input: AxisInput, previous?: Evaluation<AxisValues>): Evaluation<AxisValues> {
  const { encoderCycles, countsPerCycle, gearNumerator, gearDenominator, gearLimits, motionKind } = input;
  const { travel, controllerPulseRate, driveInputRate, motorTopSpeed, counterBits } = input;
  const { wantedResolution, wantedSpeed, loadInertia, incline } = input;
  const { rotorInertia, ratedTorque, peakTorque, testMove, dwell, pair, supply } = input;
  const { followingErrorWindow, positionGain, velocityFeedforward } = input;
  const isLinear = input.motorForm === 'linear';
  const { command } = input;
  const scaled = 'range' in command ? command : undefined;
  const loop = scaled?.hostLoop;
  const isLoose = scaled !== undefined && scaled.meaning !== 'position' && !loop;
  const nobodyHolds = unknown('no position loop is closed in the controller for this command');
  // Two motors share what is moved.
  const share = (load: Outcome<number>) => (pair ? map(load, (whole) => whole / 2) : load);
  const single = unknown('this axis has only one motor');
  const sheet = sheetKindOf(input.command);
  return evaluate(
    axisSheets[sheet],
    {
      sheet: known(sheet),
      ...absent[sheet],
      ...(scaled ? scaledValues(input, scaled) : {}),
      ...{ encoderCycles, countsPerCycle, gearNumerator, gearDenominator, gearLimits },
      ...{ travel, controllerPulseRate, driveInputRate, motorTopSpeed, counterBits },
      ...{ wantedResolution, wantedSpeed, loadInertia, incline },
      movedMass: share(input.movedMass),
      frictionLoad: share(input.frictionLoad),
      ...{ rotorInertia, ratedTorque, peakTorque, testMove, dwell },
      followingErrorWindow: loop ? loop.errorLimit : isLoose ? nobodyHolds : followingErrorWindow,
      positionGain: loop ? loop.gain : isLoose ? nobodyHolds : positionGain,
      velocityFeedforward: loop ? known(0) : velocityFeedforward,
      motionKind: known(motionKind),
      motorSpeedScale: known(isLinear ? 1 : 60),
      motorRadiansPerTurn: known(isLinear ? 0.001 : 2 * Math.PI),
      degreesPerTurn: known(isLinear ? 1 : 360),
      stageRatios: all<Exact[]>(...input.stages.map(ratioOf)),
      travelFactors: travelFactorsFor(input),
      efficiency: map(all<number[]>(...input.stages.map((stage) => stage.efficiency)), (each) =>
        each.reduce((a, b) => a * b, 1),
      ),
      stageInertia: map(stageLossesOf(input), (losses) => losses.reduce((sum, { inertia }) => sum + inertia, 0)),
      stageLosses: stageLossesOf(input),
      pulseWidthRate: known(
        input.signal.needed.state === 'known'
          ? rateByWidth(input.signal.form, input.signal.sent, input.signal.needed.value)
          : Infinity,
      ),
      mechanicsLimits: mechanicsLimitsOf(input),
      supplyMotorSpeed: known(supplyMotorSpeedOf(input)),
      backlash: backlashOf(input),
      beltCompliance: beltComplianceOf(input),
      criticalSpeed: lowestCriticalSpeed(input),
      pairSpacing: pair?.spacing ?? single,
      skewLimit: pair?.skewLimit ?? single,
      train: input.train ?? unknown('the command is not an untimed pulse train'),
      motorCount: known(pair ? 2 : 1),
      supplyVoltage: supply.voltage,
      supplyCapacitance: supply.capacitance,
      otherSupplyCurrent: supply.otherCurrent,
      windingResistance: supply.windingResistance,
      voltageConstant: supply.voltageConstant,
    },
    // Another sheet has other formulas for the same symbols.
    previous && valueOf(previous.sheet) === sheet ? previous : undefined,
  );
}

/** What the sheet of a scaled signal is given. */
function scaledValues(input: AxisInput, command: ScaledCommand): Partial<Evaluation<AxisValues>> {
  const { fromSignal, fromValue, toSignal, toValue, controllerSteps, driveSteps, creep, trimStep } = command;
  const { pulses, hostLoop, meaning, range } = command;
  const noPulses = unknown('the command is not a duty cycle');
  const noLoop = unknown('the drive closes its own loops');
  const perRevolution = map(
    all<[readonly Exact[], Exact[], Exact, Exact]>(
      travelFactorsFor(input),
      all<Exact[]>(...input.stages.map(ratioOf)) as Outcome<Exact[]>,
      input.encoderCycles,
      input.countsPerCycle,
    ),
    ([factors, ratios, cycles, each]) => divide(multiply(...factors), multiply(...ratios, cycles, each)),
  );
  return {
    ...{ fromSignal, fromValue, toSignal, toValue, controllerSteps, driveSteps, creep, trimStep },
    signalLowest: known(range.lowest),
    signalHighest: known(range.highest),
    deadband: known(command.deadband),
    commandsSpeed: known(meaning === 'speed'),
    loadPerValue: loadPerValueOf(input, meaning),
    rawFullScale: pulses?.rawFullScale ?? noPulses,
    rawNumeratorMax: pulses?.numeratorMax ?? noPulses,
    rawDenominatorMax: pulses?.denominatorMax ?? noPulses,
    // A drive counts positions in its own counts, speeds in rpm.
    rawValuePerCount: meaning === 'position' ? perRevolution : known(exact(1)),
    carrier: pulses?.carrier ?? noPulses,
    outputPulses: hostLoop?.outputPulses ?? noLoop,
    hostGain: hostLoop?.gain ?? noLoop,
    hostPeriod: hostLoop?.period ?? noLoop,
    speedBandwidth: input.speedBandwidth,
    signalFilter: known(command.filter),
    errorLimit: hostLoop?.errorLimit ?? noLoop,
    reactionTime: hostLoop?.reactionTime ?? noLoop,
    hostDeceleration: hostLoop?.deceleration ?? noLoop,
  };
}

/** axis units (a second) that a value of one moves the load. */
function loadPerValueOf(input: AxisInput, meaning: ScaledCommand['meaning']): Outcome<number> {
  switch (meaning) {
    case 'position':
      return known(1);
    case 'torque':
      return unknown('a torque command does not determine the speed');
    case 'speed':
      return map(
        all<[readonly Exact[], Exact[]]>(
          travelFactorsFor(input),
          all<Exact[]>(...input.stages.map(ratioOf)) as Outcome<Exact[]>,
        ),
        ([factors, ratios]) =>
          toNumber(divide(multiply(...factors), multiply(...ratios, exact(input.motorForm === 'linear' ? 1 : 60)))),
      );
  }
}

function travelFactorsFor(input: AxisInput): Outcome<readonly Exact[]> {
  const { motionKind, motorForm, stages } = input;
  const last = stages.at(-1);
  const wrong = stages.findIndex((stage, index) => {
    const kinds = index === stages.length - 1 ? lastKinds(motionKind, motorForm) : earlierKinds(motorForm);
    return !kinds.includes(stage.kind);
  });
  if (motorForm === 'linear' && motionKind !== 'linear')
    return unknown('a linear motor moves in a straight line, but this axis is not linear', '/motor/form');
  if (!last || wrong >= 0) return unknown(wrongStage(input, wrong), `/stages/${Math.max(0, wrong)}`);
  const factors = travelFactorsOf(last) ?? known([exact(input.axisUnit === 'deg' ? 360 : 1)]);
  return map(all<[readonly Exact[], Exact]>(factors, input.travelCorrection), ([all, correction]) =>
    equals(correction, exact(1)) ? all : [...all, correction],
  );
}

function wrongStage({ motionKind, motorForm, stages }: AxisInput, index: number): string {
  if (motorForm === 'linear') return 'a linear motor drives its slide directly, without stages';
  if (index >= 0 && index < stages.length - 1) return 'only the last stage can convert turns into travel';
  switch (motionKind) {
    case 'linear':
      return 'the last stage of a linear axis must convert turns into travel, such as a belt or a screw';
    case 'rotary':
      return 'the last stage of a rotary axis must not convert turns into travel';
    case 'dosing':
      return 'a dosing axis ends in a dosing head';
  }
}

/** From the load to the motor; inertias divided by the square of the turns between the motor and their own shaft. */
function stageLossesOf(input: AxisInput): Outcome<readonly StageLoss[]> {
  const losses: StageLoss[] = [];
  let ratio = 1;
  for (const stage of input.stages) {
    const numbers = all<[number, number, number, Exact]>(
      stage.inertia,
      stage.efficiency,
      backDriveEfficiencyOf(stage),
      ratioOf(stage),
    );
    if (numbers.state === 'unknown') return numbers;
    const [inertia, efficiency, backDriveEfficiency, own] = numbers.value;
    losses.unshift({ efficiency, backDriveEfficiency, inertia: inertia / ratio ** 2 });
    ratio *= toNumber(own);
  }
  return known(losses);
}

/** Load travel for one turn at the input of each stage, in axis units. */
function travelPerInputTurn(input: AxisInput): Outcome<readonly number[]> {
  const both = all<[readonly Exact[], Exact[]]>(
    travelFactorsFor(input),
    all<Exact[]>(...input.stages.map(ratioOf)) as Outcome<Exact[]>,
  );
  return map(both, ([factors, ratios]) => {
    let travel = factors.reduce((product, factor) => product * toNumber(factor), 1);
    return ratios
      .toReversed()
      .map((ratio) => (travel /= toNumber(ratio)))
      .toReversed();
  });
}

/** Speed limits of the stages and four fifths of a screw's critical speed (common practice); those that are given. */
function mechanicsLimitsOf(input: AxisInput): Outcome<readonly SpeedLimit[]> {
  const scale = input.motorForm === 'linear' ? 1 : 60;
  return map(travelPerInputTurn(input), (travel) =>
    input.stages.flatMap((stage, index) => {
      const perTurn = (travel[index] ?? 0) / scale;
      const own = criticalSpeedOf(stage);
      const whirls = own && valueOf(own);
      return [
        ...(stage.speedLimit === undefined
          ? []
          : [
              {
                name: `speed limit of stage ${index + 1}`,
                speed: stage.speedLimit * perTurn,
                stage: { index, isCritical: false },
              },
            ]),
        ...(whirls === undefined
          ? []
          : [
              {
                name: `critical speed of stage ${index + 1}`,
                speed: 0.8 * whirls * perTurn,
                stage: { index, isCritical: true },
              },
            ]),
      ];
    }),
  );
}

function lowestCriticalSpeed(input: AxisInput): Outcome<number> {
  const screws = input.stages.flatMap((stage) => criticalSpeedOf(stage) ?? []);
  if (screws.length === 0) return unknown('there is no screw');
  return map(all<number[]>(...screws), (speeds) => Math.min(...speeds));
}

/** Backlashes of the stages, each brought to the load: degrees at a shaft times the travel that a turn of it gives. */
function backlashOf(input: AxisInput): Outcome<number> {
  const both = all<[readonly number[], number[]]>(
    travelPerInputTurn(input),
    all<number[]>(...input.stages.map((stage) => stage.backlash)) as Outcome<number[]>,
  );
  return map(both, ([travel, backlash]) => {
    const last = input.stages.at(-1);
    const factors = last && travelFactorsOf(last);
    const turn = factors ? 0 : input.axisUnit === 'deg' ? 360 : 1;
    return input.stages.reduce((sum, stage, index) => {
      const own = backlash[index] ?? 0;
      return sum + (roleOf(stage.kind) === 'turning' ? (own / 360) * (travel[index + 1] ?? turn) : own);
    }, 0);
  });
}

function beltComplianceOf(input: AxisInput): Outcome<number> {
  const last = input.stages.at(-1);
  return (last && complianceOf(last)) ?? known(0);
}

/** rpm = 1000 · (V − I · R) / Ke; infinite where it is not given, or where an AC supply leaves it to the plate. */
function supplyMotorSpeedOf({ supply, motorForm }: AxisInput): number {
  if (supply.kind === 'AC' || motorForm === 'linear') return Infinity;
  const numbers = valueOf(
    all<[number, number, number, number]>(
      supply.voltage,
      supply.voltageConstant,
      supply.windingResistance,
      supply.ratedCurrentOfMotor,
    ),
  );
  if (!numbers) return Infinity;
  const [volts, perThousand, ohms, amps] = numbers;
  return (1000 * Math.max(0, volts - ohms * amps)) / perThousand;
}
