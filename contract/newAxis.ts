import {
  homingFields11,
  newAcceptance,
  newHomingFields,
  newGains,
  newMoves,
  newTuning,
  noSweep,
  noTrial,
  noWait,
} from './upgrades.ts';
import type { AxisDocument, CableDocument, ControllerDocument, DriveDocument, MotorDocument } from './documents.ts';
import { newCommand } from './commands/commandFaces.ts';
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
      ...newGains,
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
      positionAtHome: 0,
      homeSwitchFrom: null,
      homeSwitchLength: null,
      ...newHomingFields,
      ...homingFields11,
    },
    tuning: { ...newTuning, sweep: noSweep, trial: noTrial },
    acceptance: { ...newAcceptance, travelError: null, lostPulses: null },
    moves: { ...newMoves, wait: noWait },
    testMove: { from: null, distance: null, speed: null, acceleration: null, jerk: null, dwell: 0.3, repeats: 2 },
    jogSpeed: null,
    measured: { travelCorrection: '', measuredWith: '', turns: '', counts: '', gauge: null, travel: [] },
    pair: null,
    supply: { name: '', voltage: null, ratedCurrent: null, otherCurrent: 0, capacitance: null, takesEnergyBack: false },
    wires: {},
    keying: { found: {}, notes: {}, given: {}, done: [] },
    link: { kind: 'tcp', host: '127.0.0.1', port: 502, unit: 1, profileId: null },
    unread: {},
  };
}
