import { all, evaluate, known, map, sheetOf, unknown, type Evaluation, type Outcome } from '../sheet/index.ts';
import { toNumber, type Exact } from '../quantity/index.ts';
import { plateResult } from './plate.ts';
import type { SpindleValues } from './spindleValues.ts';
import { busFormulas } from './sheet/bus.ts';
import { curveFormulas } from './sheet/curve.ts';
import { plateFormulas } from './sheet/plate.ts';
import { rampFormulas } from './sheet/ramps.ts';
import { scalingFormulas } from './sheet/scaling.ts';
import type { BeltStepInput, SpindleInput } from './spindleInput.ts';
import { speedRange, type SpeedRange, type SpindleBound } from './speedRange.ts';

/** The formulas of a spindle. */
export const spindleSheet = sheetOf<SpindleValues>([
  ...plateFormulas,
  ...curveFormulas,
  ...scalingFormulas,
  ...rampFormulas,
  ...busFormulas,
]);

/** Works out a spindle; with the previous evaluation only what an edit touches. */
export function evaluateSpindle(input: SpindleInput, previous?: Evaluation<SpindleValues>): Evaluation<SpindleValues> {
  const { plate, supply, drive, settings, step, tool, wanted, bus, command } = input;
  const noBus = unknown('this spindle is not commanded over a field bus');
  return evaluate(
    spindleSheet,
    {
      plate: known(plate),
      platePower: plate.power,
      plateHertz: plate.hertz,
      plateSpeed: plate.speed,
      supplyVolts: supply.volts,
      supplyPhases: known(supply.phases),
      baseHertz: map(settings.base, ({ hertz }) => hertz),
      baseVolts: map(settings.base, ({ volts }) => volts),
      curve: map(
        all<[{ hertz: number; volts: number }, number, number]>(settings.base, settings.boost, settings.highestHertz),
        ([base, boost, highestHertz]) => ({ base, boost, points: settings.points, highestHertz }),
      ),
      beltRatio: step.ratio,
      command: known(command),
      driveResolution: drive.resolution,
      leastBounds: known(leastBoundsOf(input)),
      mostBounds: known(mostBoundsOf(input)),
      wantedSpeed: wanted.speed,
      toolDiameter: tool.diameter,
      rotorInertia: input.rotorInertia,
      pulleyInertia: input.pulleyInertia,
      toolInertia: tool.inertia,
      frictionTorque: input.frictionTorque,
      overload: input.overload,
      driveCurrent: drive.ratedCurrent,
      driveOverload: drive.overload,
      wantedTop: wanted.topSpeed,
      startTime: wanted.startTime,
      stopTime: wanted.stopTime,
      stopEvery: wanted.stopEvery,
      rampUp: settings.rampUp,
      rampDown: settings.rampDown,
      highestHertz: settings.highestHertz,
      chosenConnection: known(settings.connection),
      capacitance: drive.capacitance,
      tripVolts: drive.tripVolts,
      chopperVolts: drive.hasChopper ? drive.chopperVolts : unknown('the drive has no brake chopper'),
      leastOhms: drive.hasChopper ? drive.leastOhms : unknown('the drive has no brake chopper'),
      idlePower: drive.idlePower,
      serialLine: bus?.drive.line ?? noBus,
      pollMessages: bus?.messages ?? noBus,
      pollPeriod: bus?.period ?? noBus,
      timeOut: bus?.timeOut ?? noBus,
      lostLink: bus ? known(bus.lostLink) : noBus,
    },
    previous,
  );
}

const bound = (
  name: string,
  speed: Outcome<number>,
  at: SpindleBound['at'],
  isSetting = false,
): readonly SpindleBound[] =>
  speed.state === 'known' && speed.value > 0 ? [{ name, speed: speed.value, at, isSetting }] : [];

/** rpm of the field for one Hz, where the plate tells its poles. */
const speedPerHertz = ({ plate }: SpindleInput): Outcome<number> => map(plateResult(plate), ({ poles }) => 120 / poles);

function leastBoundsOf(input: SpindleInput): readonly SpindleBound[] {
  const { coolingHertz, settings } = input;
  const inSpeed = (hertz: Outcome<number>) => map(all<[number, number]>(hertz, speedPerHertz(input)), product);
  return [
    ...bound('cooling of the motor', inSpeed(coolingHertz), 'motor'),
    ...bound('lowest frequency set in the drive', inSpeed(settings.lowestHertz), 'motor', true),
  ];
}

function mostBoundsOf(input: SpindleInput): readonly SpindleBound[] {
  const { settings, drive, tool, bearingSpeed, beltSpeed } = input;
  const inSpeed = (hertz: Outcome<number>) => map(all<[number, number]>(hertz, speedPerHertz(input)), product);
  const rim = map(
    all<[number, number]>(tool.rimSpeed, tool.diameter),
    ([speed, width]) => (60 * speed) / (Math.PI * width),
  );
  return [
    ...bound('bearings of the motor', bearingSpeed, 'motor'),
    ...bound('belt', beltSpeed, 'motor'),
    ...bound('tool', tool.topSpeed, 'tool'),
    ...bound('rim of the tool', rim, 'tool'),
    ...bound('highest frequency set in the drive', inSpeed(settings.highestHertz), 'motor', true),
    ...bound('highest frequency of the drive', inSpeed(drive.highestHertz), 'motor'),
  ];
}

const product = ([a, b]: readonly [number, number]) => a * b;

/** Every belt step with the speeds that it leaves to the tool. */
export const rangesOfSteps = (
  { steps }: SpindleInput,
  { leastBounds, mostBounds }: Evaluation<SpindleValues>,
): readonly { readonly step: BeltStepInput; readonly range: Outcome<SpeedRange> }[] =>
  steps.map((step) => ({
    step,
    range: map(
      all<[Exact, readonly SpindleBound[], readonly SpindleBound[]]>(step.ratio, leastBounds, mostBounds),
      ([ratio, least, most]) => speedRange({ name: step.name, ratio: toNumber(ratio) }, least, most),
    ),
  }));
