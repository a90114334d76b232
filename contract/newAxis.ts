import type { CommandDocument } from './commandDocument.ts';
import type { AxisDocument, CableDocument, ControllerDocument, DriveDocument, MotorDocument } from './documents.ts';
import { newStage } from './stageDocument.ts';

/** A motor of a form with nothing on its plate yet. */
export const newMotor = {
  rotary: (name: string): Extract<MotorDocument, { readonly form: 'rotary' }> => ({
    form: 'rotary',
    name,
    ratedPower: null,
    ratedTorque: null,
    peakTorque: null,
    ratedSpeed: null,
    topSpeed: null,
    rotorInertia: null,
    encoder: { kind: 'bits', bits: '' },
    ratedCurrent: null,
    voltageConstant: null,
    windingResistance: null,
  }),
  linear: (name: string): Extract<MotorDocument, { readonly form: 'linear' }> => ({
    form: 'linear',
    name,
    ratedForce: null,
    peakForce: null,
    topSpeed: null,
    movingMass: null,
    countsPerMillimetre: '',
  }),
} as const;

export const newDrive = (name: string): DriveDocument => ({
  name,
  numeratorMax: '2147483647',
  denominatorMax: '2147483647',
  ratioMin: '1/1000',
  ratioMax: '64000',
  ratioForm: 'numerator and denominator',
  ratioInverted: false,
  switchTable: [],
  gearSets: 1,
  differentialRate: null,
  singleEndedRate: null,
  minimumPulseWidth: null,
  directionSetUp: null,
  pulseInput: {
    kind: 'optocoupler',
    forwardVoltage: null,
    resistance: null,
    minimumCurrent: null,
    maximumCurrent: null,
  },
  counterBits: 32,
  supply: { kind: 'AC', phases: '', minimum: null, maximum: null, reversePolaritySafe: true },
});

export const newController = (name: string): ControllerDocument => ({
  name,
  maximumPulseRate: null,
  outputs: [],
  outputVoltage: null,
  outputDrop: null,
  outputCurrent: null,
});

export const newCable = (name: string): CableDocument => ({
  name,
  resistor: null,
  length: null,
  shield: 'both ends',
  commonReference: true,
  termination: null,
  pins: [],
});

/** A command of a kind; the line and the inversion that are there stay. */
export function newCommand(kind: CommandDocument['kind'], before: Partial<CommandDocument>): CommandDocument {
  const inverted = before.inverted ?? false;
  const electrical = 'electrical' in before && before.electrical ? before.electrical : 'differential';
  switch (kind) {
    case 'stepDirection':
    case 'clockwisePulses':
    case 'quadrature':
      return { kind, electrical, inverted };
    case 'untimedPulses':
      return {
        kind,
        electrical,
        inverted,
        form: 'stepDirection',
        pulses: '',
        rate: null,
        repeatPeriod: null,
        speedLimit: null,
        acceleration: null,
        smoothing: 0,
      };
    case 'analog':
      return {
        kind,
        ...newScale(inverted, '0 V', '10 V'),
        meaning: 'speed',
        range: '±10 V',
        gainForm: 'value at full signal',
        controllerBits: null,
        driveInput: 'converted',
        driveBits: null,
        deadband: 0,
        filter: 0,
        potentiometer: {
          resistance: null,
          deadEnd: 3,
          referenceVoltage: 10,
          referenceCurrent: null,
          inputResistance: null,
        },
        loop: null,
        outputs: [],
      };
    case 'pwm':
      return {
        kind,
        ...newScale(inverted, '0', '100'),
        meaning: 'speed',
        carrier: null,
        generatorBits: null,
        generatorClock: null,
        captureClock: null,
        rawFullScale: '',
        numeratorMax: '65535',
        denominatorMax: '65535',
        directions: 'one',
        sharedWith: '',
      };
    case 'choice':
      return {
        kind,
        inverted,
        inputs: ['Input 1'],
        storedMoves: null,
        moves: [],
        edges: [],
        torqueInputs: [],
        torqueLimits: [],
        minimumInputDuration: 0.005,
        startDelay: 0,
        nothing: 'not known',
        skew: 0.002,
        homing: 'if not homed',
        patternAtEnable: '0',
      };
  }
}

const newScale = (inverted: boolean, from: string, to: string) => ({
  inverted,
  from: { signal: from, value: '0' },
  to: { signal: to, value: '' },
  faultDetected: false,
  standing: '',
  switchedOn: false,
  creep: null,
  trimStep: null,
  calibration: [],
});

/** A position loop in the controller, with nothing known of it yet. */
export const newLoop = (): NonNullable<Extract<CommandDocument, { kind: 'analog' }>['loop']> => ({
  gain: 20,
  period: 0.001,
  outputPulses: '',
  outputRate: null,
  inputRate: null,
  feedbackInverted: false,
  errorLimit: null,
  reactionTime: 0.02,
  deceleration: null,
});

/** A new axis: what has a sensible start is filled in, the rest waits for the plates. */
export function newAxis(name: string, kind: 'linear' | 'rotary' | 'dosing'): AxisDocument {
  const motion: AxisDocument['motion'] =
    kind === 'linear'
      ? { kind, travel: '' }
      : kind === 'rotary'
        ? { kind, unit: 'deg', endless: false, travel: '360 deg' }
        : { kind, travel: '' };
  return {
    kind: 'axis',
    name,
    notes: '',
    motion,
    plusEnd: '',
    motor: { ...newMotor.rotary('Motor'), entry: null },
    drive: { ...newDrive('Drive'), differentialRate: 4000000, singleEndedRate: 200000, entry: null },
    controller: { ...newController('Controller'), entry: null },
    command: newCommand('stepDirection', { electrical: 'differential', inverted: false }),
    signal: {
      driveForm: 'stepDirection',
      controllerActive: 'high',
      driveActive: 'high',
      output: 'differential',
      pulseWidth: null,
      directionSetUp: 0.00001,
    },
    cable: { ...newCable('Pulse cable'), entry: null },
    protection: {
      enable: { isWired: true, controllerLevel: 'high' },
      alarm: { contact: 'normallyClosed', joined: 'alone', drives: 1 },
      limits: { contact: 'normallyClosed', plusInputAt: 'not settled' },
      safeTorqueOff: 'none',
    },
    gear: { numerator: '1', denominator: '1', sets: [], switchedInMotion: false },
    stages: [newStage(kind === 'linear' ? 'screw' : kind === 'rotary' ? 'worm' : 'dosingHead')],
    load: { mass: null, inertia: null, friction: 0, incline: 0 },
    wanted: { resolution: '', speed: null },
    settings: {
      rotationSense: 'counterClockwise',
      enableActiveLevel: 'high',
      limitActiveLevel: 'low',
      inertiaRatio: null,
      positionGain: null,
      speedBandwidth: null,
      speedIntegralTime: null,
      velocityFeedforward: null,
      torqueLimit: null,
      followingErrorWindow: null,
      minusSoftLimit: null,
      plusSoftLimit: null,
    },
    brake: { drivenBy: 'not settled', torque: null, releaseDelay: null, engageDelay: null },
    homing: {
      by: 'controller',
      method: 17,
      searchSpeed: null,
      creepSpeed: null,
      acceleration: null,
      homeOffset: 0,
      homeSwitchFrom: null,
      homeSwitchLength: null,
    },
    testMove: { from: null, distance: null, speed: null, acceleration: null, jerk: null, dwell: 0.3, repeats: 2 },
    jogSpeed: null,
    measured: { travelCorrection: '', measuredWith: '', turns: '', counts: '', gauge: null, travel: [] },
    pair: null,
    supply: { name: '', voltage: null, ratedCurrent: null, otherCurrent: 0, capacitance: null, takesEnergyBack: false },
    keying: { found: {}, notes: {}, given: {}, done: [] },
    link: { kind: 'tcp', host: '127.0.0.1', port: 502, unit: 1, profileId: null },
    unread: {},
  };
}
