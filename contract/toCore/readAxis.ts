import type { AxisInput, AxisUnit, Stage } from '@kavrid/core/chain';
import { planMove } from '@kavrid/core/motion';
import type { rational } from '@kavrid/core/quantity';
import { compare, exact, exactRatio, parseQuantity, toRational, type Exact } from '@kavrid/core/quantity';
import { all, known, map, unknown, type Outcome } from '@kavrid/core/sheet';
import type { AxisDocument, StageDocument } from '../documents.ts';
import { ruleFor, type RuleName } from '../rules.ts';

/** A field whose text cannot be read. */
export interface FieldProblem {
  /** JSON pointer into the document. */
  readonly path: string;
  readonly message: string;
}

export interface AxisReading {
  readonly input: AxisInput;
  readonly problems: readonly FieldProblem[];
}

export const axisUnitOf = (axis: Pick<AxisDocument, 'motion'>): AxisUnit => {
  switch (axis.motion.kind) {
    case 'linear':
      return 'mm';
    case 'rotary':
      return axis.motion.unit;
    case 'dosing':
      return 'mL';
  }
};

/** Reads a document into the computation. An empty field is unknown; a field that cannot be read is unknown and a problem. */
export function readAxis(axis: AxisDocument): AxisReading {
  const axisUnit = axisUnitOf(axis);
  const problems: FieldProblem[] = [];
  const text = (path: string, label: string, value: string, rule: RuleName): Outcome<Exact> => {
    const parsed = parseQuantity(value, ruleFor(rule, axisUnit));
    switch (parsed.kind) {
      case 'value':
        return known(parsed.value);
      case 'empty':
        return unknown(`${label} is not filled in`, path);
      case 'error':
        problems.push({ path, message: parsed.message });
        return unknown(`${label} cannot be read`, path);
    }
  };
  const number = (path: string, label: string, value: number | null): Outcome<number> =>
    value === null ? unknown(`${label} is not filled in`, path) : known(value);

  const { motor, drive, controller, gear, load, wanted, command, motion } = axis;
  const register = (path: string, label: string, value: string) =>
    map(text(path, label, value, 'gearRegister'), (v) => v.ratio.numerator);
  const bound = (path: string, label: string, value: string) => map(text(path, label, value, 'ratioBound'), toRational);
  const gearLimits = map(
    all(
      register('/drive/numeratorMax', 'the largest numerator', drive.numeratorMax),
      register('/drive/denominatorMax', 'the largest denominator', drive.denominatorMax),
      bound('/drive/ratioMin', 'the smallest ratio', drive.ratioMin),
      bound('/drive/ratioMax', 'the largest ratio', drive.ratioMax),
    ) as Outcome<readonly [bigint, bigint, ReturnType<typeof rational>, ReturnType<typeof rational>]>,
    ([numeratorMax, denominatorMax, ratioMin, ratioMax]) => ({ numeratorMax, denominatorMax, ratioMin, ratioMax }),
  );
  if (gearLimits.state === 'known') {
    const { ratioMin, ratioMax } = gearLimits.value;
    if (compare(exactRatio(ratioMin), exactRatio(ratioMax)) > 0) {
      problems.push({ path: '/drive/ratioMax', message: 'The largest ratio must not be below the smallest.' });
    }
  }

  const input: AxisInput = {
    motionKind: motion.kind,
    axisUnit,
    endless: motion.kind === 'rotary' && motion.endless,
    travel: text('/motion/travel', 'the travel', motion.travel, 'travel'),
    outputPerTurn:
      motion.kind === 'dosing'
        ? text('/motion/outputPerTurn', 'the output per turn', motion.outputPerTurn, 'outputPerTurn')
        : known(exact(1)),
    stages: axis.stages.map((stage, index) => readStage(stage, `/stages/${index}`, text, number)),
    encoderCycles:
      motor.encoder.kind === 'lines'
        ? text('/motor/encoder/lines', 'the number of encoder lines', motor.encoder.lines, 'encoderLines')
        : map(text('/motor/encoder/bits', 'the number of encoder bits', motor.encoder.bits, 'encoderBits'), (bits) =>
            exact(2n ** bits.ratio.numerator),
          ),
    countsPerCycle: known(exact(motor.encoder.kind === 'lines' ? 4 : 1)),
    gearNumerator: text('/gear/numerator', 'the gear numerator', gear.numerator, 'gearRegister'),
    gearDenominator: text('/gear/denominator', 'the gear denominator', gear.denominator, 'gearRegister'),
    gearLimits,
    controllerPulseRate: number(
      '/controller/maximumPulseRate',
      'the controller’s highest pulse rate',
      controller.maximumPulseRate,
    ),
    driveInputRate:
      command.electrical === 'differential'
        ? number('/drive/differentialRate', 'the drive’s differential input rate', drive.differentialRate)
        : number('/drive/singleEndedRate', 'the drive’s single-ended input rate', drive.singleEndedRate),
    motorTopSpeed: number('/motor/topSpeed', 'the motor’s highest speed', motor.topSpeed),
    counterBits: number('/drive/counterBits', 'the size of the position counter', drive.counterBits),
    wantedResolution: text('/wanted/resolution', 'the wanted resolution', wanted.resolution, 'resolution'),
    wantedSpeed: number('/wanted/speed', 'the wanted speed', wanted.speed),
    commandInverted: command.inverted,
    plusIsClockwise: axis.settings.rotationSense === 'clockwise',
    movedMass: motion.kind === 'linear' ? number('/load/mass', 'the moved mass', load.mass) : known(0),
    loadInertia: motion.kind === 'linear' ? known(0) : number('/load/inertia', 'the load’s inertia', load.inertia),
    frictionLoad: number('/load/friction', 'the friction', load.friction),
    incline: motion.kind === 'linear' ? number('/load/incline', 'the incline', load.incline) : known(0),
    rotorInertia: number('/motor/rotorInertia', 'the rotor inertia', motor.rotorInertia),
    ratedTorque: number('/motor/ratedTorque', 'the rated torque', motor.ratedTorque),
    peakTorque: number('/motor/peakTorque', 'the peak torque', motor.peakTorque),
    testMove: readTestMove(axis.testMove),
    dwell: number('/testMove/dwell', 'the dwell', axis.testMove.dwell),
  };
  return { input, problems };
}

/** The schema has its own words for limits out of range; here such a move is just not known. */
function readTestMove({ distance, speed, acceleration, jerk }: AxisDocument['testMove']): AxisInput['testMove'] {
  const limit = (field: string, value: number | null): Outcome<number> =>
    value !== null && value > 0
      ? known(value)
      : unknown(`the ${field} of the test move is not filled in`, `/testMove/${field}`);
  return map(
    all<[number, number, number, number]>(
      limit('distance', distance),
      limit('speed', speed),
      limit('acceleration', acceleration),
      jerk === null ? known(0) : limit('jerk', jerk),
    ),
    ([length, ...rest]) => planMove(length, { speed: rest[0], acceleration: rest[1], jerk: rest[2] || undefined }),
  );
}

type ReadText = (path: string, label: string, value: string, rule: RuleName) => Outcome<Exact>;
type ReadNumber = (path: string, label: string, value: number | null) => Outcome<number>;

function readStage(stage: StageDocument, path: string, text: ReadText, number: ReadNumber): Stage {
  const base = {
    reverses: stage.reverses,
    efficiency: number(`${path}/efficiency`, 'the efficiency', stage.efficiency),
    inertia: number(`${path}/inertia`, 'the inertia of a stage', stage.inertia),
  };
  switch (stage.kind) {
    case 'direct':
      return { kind: 'direct', ...base };
    case 'gearbox':
      return {
        kind: 'gearbox',
        ratio: text(`${path}/ratio`, 'the gearbox ratio', stage.ratio, 'gearboxRatio'),
        ...base,
      };
    case 'beltDrive':
      return {
        kind: 'beltDrive',
        teeth: text(`${path}/teeth`, 'the number of pulley teeth', stage.teeth, 'teeth'),
        pitch: text(`${path}/pitch`, 'the belt pitch', stage.pitch, 'beltPitch'),
        ...base,
      };
    case 'screw':
      return {
        kind: 'screw',
        lead: text(`${path}/lead`, 'the lead', stage.lead, 'lead'),
        starts: text(`${path}/starts`, 'the number of starts', stage.starts, 'starts'),
        ...base,
      };
    case 'beltReduction':
      return {
        kind: 'beltReduction',
        drivingTeeth: text(`${path}/drivingTeeth`, 'the number of driving teeth', stage.drivingTeeth, 'teeth'),
        drivenTeeth: text(`${path}/drivenTeeth`, 'the number of driven teeth', stage.drivenTeeth, 'teeth'),
        ...base,
      };
    case 'rack':
      return {
        kind: 'rack',
        teeth: text(`${path}/teeth`, 'the number of pinion teeth', stage.teeth, 'teeth'),
        module: text(`${path}/module`, 'the module', stage.module, 'module'),
        helixAngle: text(`${path}/helixAngle`, 'the helix angle', stage.helixAngle, 'helixAngle'),
        ...base,
      };
    case 'roller':
      return {
        kind: 'roller',
        diameter: text(`${path}/diameter`, 'the roller’s diameter', stage.diameter, 'diameter'),
        ...base,
      };
    case 'wireDrum':
      return {
        kind: 'wireDrum',
        drumDiameter: text(`${path}/drumDiameter`, 'the drum’s diameter', stage.drumDiameter, 'diameter'),
        wireDiameter: text(`${path}/wireDiameter`, 'the wire’s diameter', stage.wireDiameter, 'diameter'),
        ...base,
      };
    case 'worm':
      return {
        kind: 'worm',
        starts: text(`${path}/starts`, 'the number of worm starts', stage.starts, 'starts'),
        wheelTeeth: text(`${path}/wheelTeeth`, 'the number of wheel teeth', stage.wheelTeeth, 'teeth'),
        ...base,
      };
  }
}
