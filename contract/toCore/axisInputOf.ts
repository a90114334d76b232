import type { AxisInput, AxisUnit } from '@kavrid/core/chain';
import { planMove } from '@kavrid/core/motion';
import type { rational } from '@kavrid/core/quantity';
import { compare, exact, exactRatio, toNumber, toRational, type Exact } from '@kavrid/core/quantity';
import { all, known, map, unknown, type Outcome } from '@kavrid/core/sheet';
import type { UntimedTrain } from '@kavrid/core/signal';
import type { CommandDocument } from '../commandDocument.ts';
import type { AxisDocument } from '../documents.ts';
import { fieldReader, type FieldProblem, type ReadNumber, type ReadText } from './fieldReader.ts';
import { readCommand } from '../commands/commandFaces.ts';
import { formOf, isPulseCommand } from '../commands/pulses.ts';
import { readStage } from './readStage.ts';

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
export function axisInputOf(axis: AxisDocument): AxisReading {
  const axisUnit = axisUnitOf(axis);
  const { problems, text, number } = fieldReader(axisUnit);
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
    travelCorrection:
      axis.measured.travelCorrection.trim() === ''
        ? known(exact(1))
        : text(
            '/measured/travelCorrection',
            'the travel correction',
            axis.measured.travelCorrection,
            'travelCorrection',
          ),
    command: readCommand(axis, text, number),
    stages: axis.stages.map((stage, index) => readStage(stage, `/stages/${index}`, text, number)),
    motorForm: motor.form,
    ...readMotor(motor, text, number),
    gearNumerator: text('/gear/numerator', 'the gear numerator', gear.numerator, 'gearRegister'),
    gearDenominator: text('/gear/denominator', 'the gear denominator', gear.denominator, 'gearRegister'),
    gearLimits,
    ratioForm: drive.ratioForm,
    ratioInverted: drive.ratioInverted,
    switchTable: drive.switchTable.map(({ switches, value }, index) => ({
      switches,
      pulses: text(`/drive/switchTable/${index}/value`, 'a value of the switch table', value, 'gearRegister'),
    })),
    gearSets: gear.sets.map((set, index) => ({
      numerator: text(`/gear/sets/${index}/numerator`, 'a gear numerator', set.numerator, 'gearRegister'),
      denominator: text(`/gear/sets/${index}/denominator`, 'a gear denominator', set.denominator, 'gearRegister'),
    })),
    gearSetsMax: drive.gearSets ?? 1,
    gearSwitchedInMotion: gear.switchedInMotion,
    controllerPulseRate: number(
      '/controller/maximumPulseRate',
      'the controller’s highest pulse rate',
      controller.maximumPulseRate,
    ),
    driveInputRate:
      lineOf(command) === 'differential'
        ? number('/drive/differentialRate', 'the drive’s differential input rate', drive.differentialRate)
        : number('/drive/singleEndedRate', 'the drive’s single-ended input rate', drive.singleEndedRate),
    counterBits: number('/drive/counterBits', 'the size of the position counter', drive.counterBits),
    wantedResolution: text('/wanted/resolution', 'the wanted resolution', wanted.resolution, 'resolution'),
    wantedSpeed: number('/wanted/speed', 'the wanted speed', wanted.speed),
    commandInverted: command.inverted,
    plusIsClockwise: axis.settings.rotationSense === 'clockwise',
    movedMass: motion.kind === 'linear' ? number('/load/mass', 'the moved mass', load.mass) : known(0),
    loadInertia: motion.kind === 'linear' ? known(0) : number('/load/inertia', 'the load’s inertia', load.inertia),
    frictionLoad: number('/load/friction', 'the friction', load.friction),
    incline: motion.kind === 'linear' ? number('/load/incline', 'the incline', load.incline) : known(0),
    testMove: readTestMove(axis.testMove),
    dwell: number('/testMove/dwell', 'the dwell', axis.testMove.dwell),
    signal: readSignal(axis, number),
    train: command.kind === 'untimedPulses' ? readTrain(command, text, number) : undefined,
    protection: readProtection(axis),
    brake: {
      drivenBy: axis.brake.drivenBy,
      torque: number('/brake/torque', 'the torque of the holding brake', axis.brake.torque),
    },
    pair: axis.pair
      ? {
          mirrored: axis.pair.mirrored,
          secondIsClockwise: axis.pair.secondSense === 'clockwise',
          spacing: number('/pair/spacing', 'the distance between the two motors', axis.pair.spacing),
          squaring: axis.pair.squaring,
          skewLimit: number('/pair/skewLimit', 'the allowed skew', axis.pair.skewLimit),
          commonTrip: axis.pair.commonTrip,
        }
      : undefined,
    supply: readSupply(axis, number),
    speedBandwidth: number('/settings/speedBandwidth', 'the speed loop’s bandwidth', axis.settings.speedBandwidth),
    minusSoftLimit: axis.settings.minusSoftLimit ?? undefined,
    plusSoftLimit: axis.settings.plusSoftLimit ?? undefined,
    positionGain: number('/settings/positionGain', 'the position gain', axis.settings.positionGain),
    velocityFeedforward: number('/settings/velocityFeedforward', 'the feedforward', axis.settings.velocityFeedforward),
    followingErrorWindow: number(
      '/settings/followingErrorWindow',
      'the following-error window',
      axis.settings.followingErrorWindow,
    ),
  };
  // Read for their errors; the fit takes them when both are there.
  text('/measured/turns', 'the turns', axis.measured.turns, 'turns');
  text('/measured/counts', 'the counts', axis.measured.counts, 'countedCounts');
  text('/measured/measuredWith', 'the correction', axis.measured.measuredWith, 'travelCorrection');
  return { input, problems };
}

/** The schema has its own words for limits out of range; here such a move is just not known. */
function readTestMove({ distance, speed, acceleration, jerk }: AxisDocument['testMove']): AxisInput['testMove'] {
  const limit = (field: string, value: number | null): Outcome<number> =>
    value !== null && value > 0
      ? known(value)
      : unknown(`the ${field} of the test move has not been entered`, `/testMove/${field}`);
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

const lineOf = (command: CommandDocument) => (isPulseCommand(command) ? command.electrical : 'singleEnded');

function readMotor(
  motor: AxisDocument['motor'],
  text: ReadText,
  number: ReadNumber,
): Pick<
  AxisInput,
  'encoderCycles' | 'countsPerCycle' | 'motorTopSpeed' | 'rotorInertia' | 'ratedTorque' | 'peakTorque'
> {
  const motorTopSpeed = number('/motor/topSpeed', 'the motor’s highest speed', motor.topSpeed);
  if (motor.form === 'linear')
    return {
      encoderCycles: text(
        '/motor/countsPerMillimetre',
        'the motor’s counts per mm',
        motor.countsPerMillimetre,
        'countsPerMillimetre',
      ),
      countsPerCycle: known(exact(1)),
      motorTopSpeed,
      rotorInertia: number('/motor/movingMass', 'the motor’s moving mass', motor.movingMass),
      ratedTorque: number('/motor/ratedForce', 'the rated force', motor.ratedForce),
      peakTorque: number('/motor/peakForce', 'the peak force', motor.peakForce),
    };
  const { encoder } = motor;
  return {
    encoderCycles:
      encoder.kind === 'lines'
        ? text('/motor/encoder/lines', 'the number of encoder lines', encoder.lines, 'encoderLines')
        : map(text('/motor/encoder/bits', 'the number of encoder bits', encoder.bits, 'encoderBits'), (bits) =>
            exact(2n ** bits.ratio.numerator),
          ),
    countsPerCycle: known(exact(encoder.kind === 'lines' ? 4 : 1)),
    motorTopSpeed,
    rotorInertia: number('/motor/rotorInertia', 'the rotor inertia', motor.rotorInertia),
    ratedTorque: number('/motor/ratedTorque', 'the rated torque', motor.ratedTorque),
    peakTorque: number('/motor/peakTorque', 'the peak torque', motor.peakTorque),
  };
}

function readSignal(axis: AxisDocument, number: ReadNumber): AxisInput['signal'] {
  const { signal, cable, drive, controller, command } = axis;
  const input = drive.pulseInput;
  return {
    form: isPulseCommand(command) ? formOf(command) : signal.driveForm,
    driveForm: signal.driveForm,
    electrical: lineOf(command),
    controllerActive: signal.controllerActive,
    driveActive: signal.driveActive,
    sent: { pulseWidth: signal.pulseWidth ?? undefined, directionSetUp: signal.directionSetUp ?? 0 },
    needed: map(
      all<[number, number]>(
        number('/drive/minimumPulseWidth', 'the drive’s minimum pulse width', drive.minimumPulseWidth),
        number('/drive/directionSetUp', 'the drive’s direction set-up time', drive.directionSetUp),
      ),
      ([minimumPulseWidth, directionSetUp]) => ({ minimumPulseWidth, directionSetUp }),
    ),
    circuit: {
      output: signal.output,
      outputVoltage: number('/controller/outputVoltage', 'the output’s voltage', controller.outputVoltage),
      outputDrop: number('/controller/outputDrop', 'the output’s voltage drop', controller.outputDrop),
      outputCurrent: controller.outputCurrent ?? undefined,
      inputKind: input.kind,
      forwardVoltage: number(
        '/drive/pulseInput/forwardVoltage',
        'the optocoupler’s forward voltage',
        input.forwardVoltage,
      ),
      inputResistance: number('/drive/pulseInput/resistance', 'the resistor in the drive', input.resistance),
      minimumCurrent: number('/drive/pulseInput/minimumCurrent', 'the minimum input current', input.minimumCurrent),
      maximumCurrent: number('/drive/pulseInput/maximumCurrent', 'the maximum input current', input.maximumCurrent),
      cableResistance: cable.resistor ?? 0,
    },
    outputs: controller.outputs,
    driveTakesDifferential: drive.differentialRate !== null,
    cableLength: cable.length ?? undefined,
    shield: cable.shield,
    commonReference: cable.commonReference,
    termination: cable.termination ?? undefined,
  };
}

function readTrain(
  command: Extract<AxisDocument['command'], { kind: 'untimedPulses' }>,
  text: ReadText,
  number: ReadNumber,
): Outcome<UntimedTrain> {
  return map(
    all<[Exact, number, number, number, number]>(
      text('/command/pulses', 'the number of pulses of a train', command.pulses, 'pulses'),
      number('/command/rate', 'the rate of the train', command.rate),
      number('/command/speedLimit', 'the drive’s speed limit', command.speedLimit),
      number('/command/acceleration', 'the drive’s acceleration', command.acceleration),
      number('/command/smoothing', 'the drive’s smoothing', command.smoothing),
    ),
    ([pulses, rate, speedLimit, acceleration, smoothing]) => ({
      pulses: toNumber(pulses),
      rate,
      repeatPeriod: command.repeatPeriod ?? undefined,
      speedLimit,
      acceleration,
      smoothing,
    }),
  );
}

function readProtection({ protection, settings }: AxisDocument): AxisInput['protection'] {
  const { enable, alarm, limits, safeTorqueOff } = protection;
  return {
    enable: { ...enable, driveLevel: settings.enableActiveLevel },
    alarm: { ...alarm, drives: alarm.drives ?? 1 },
    limits: { ...limits, activeLevel: settings.limitActiveLevel },
    safeTorqueOff,
  };
}

function readSupply({ supply, drive, motor }: AxisDocument, number: ReadNumber): AxisInput['supply'] {
  const { kind, minimum, maximum, reversePolaritySafe } = drive.supply;
  const plate = motor.form === 'rotary' ? motor : undefined;
  return {
    kind,
    minimum: minimum ?? undefined,
    maximum: maximum ?? undefined,
    reversePolaritySafe,
    voltage: number('/supply/voltage', 'the supply’s voltage', supply.voltage),
    ratedCurrent: number('/supply/ratedCurrent', 'the supply’s current', supply.ratedCurrent),
    otherCurrent: number('/supply/otherCurrent', 'the current of the other axes', supply.otherCurrent),
    capacitance: map(
      number('/supply/capacitance', 'the capacitance of supply and drive', supply.capacitance),
      (microfarads) => microfarads / 1e6,
    ),
    takesEnergyBack: supply.takesEnergyBack,
    voltageConstant: number('/motor/voltageConstant', 'the motor’s voltage constant', plate?.voltageConstant ?? null),
    windingResistance: number('/motor/windingResistance', 'the winding’s resistance', plate?.windingResistance ?? null),
    ratedCurrentOfMotor: number('/motor/ratedCurrent', 'the motor’s rated current', plate?.ratedCurrent ?? null),
  };
}
