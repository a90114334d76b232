import type {
  SpindleCommandDocument,
  SpindleDocument,
  SpindleDriveDocument,
  SpindleMotorDocument,
} from './spindleDocument.ts';
import { newSpindleAcceptance } from './upgrades.ts';

/** A spindle motor with nothing on its plate yet. */
export const newSpindleMotor = (name: string): SpindleMotorDocument => ({
  name,
  power: null,
  hertz: null,
  speed: null,
  poles: null,
  starVolts: null,
  starAmps: null,
  deltaVolts: null,
  deltaAmps: null,
  powerFactor: null,
  overload: 1.5,
  rotorInertia: null,
  bearingSpeed: null,
  coolingHertz: null,
});

/** A spindle drive of which nothing is known yet. */
export const newSpindleDrive = (name: string): SpindleDriveDocument => ({
  name,
  ratedCurrent: null,
  overload: 1.5,
  supplyLeast: null,
  supplyMost: null,
  phases: '',
  highestHertz: null,
  resolution: 0.01,
  capacitance: null,
  tripVolts: null,
  chopperVolts: null,
  leastVolts: null,
  hasChopper: false,
  leastOhms: null,
  idlePower: null,
  dischargeTime: 15,
  answerDelay: 0.01,
  oneBased: false,
  registers: [],
});

/** A way to command a spindle, with its fields empty where only the manual can tell. */
export function newSpindleCommand(kind: SpindleCommandDocument['kind']): SpindleCommandDocument {
  switch (kind) {
    case 'signal':
      return {
        kind,
        signal: '0–10 V',
        from: { signal: '0', hertz: '0 Hz' },
        to: { signal: '10', hertz: '' },
        senderSteps: 4096,
        takerSteps: 1024,
        controllerTop: null,
      };
    case 'fixedSpeeds':
      return {
        kind,
        speeds: [
          { pattern: '01', hertz: null },
          { pattern: '10', hertz: null },
          { pattern: '11', hertz: null },
        ],
      };
    case 'fieldBus':
      return { kind, counts: 'hertz', each: 0.01, fullScale: null, fullHertz: null, signed: false, bits: '16' };
  }
}

const busEnd = {
  baud: 19200,
  parity: 'even',
  stopBits: '1',
  address: 1,
  positiveLabel: '',
  negativeLabel: '',
} as const;

/** A new spindle: what has a sensible start is filled in, the rest waits for the plates. */
export const newSpindle = (name: string): SpindleDocument => ({
  kind: 'spindle',
  name,
  notes: '',
  motor: { ...newSpindleMotor('Spindle motor'), entry: null },
  drive: { ...newSpindleDrive('Spindle drive'), entry: null },
  controller: { name: 'Controller', entry: null },
  supply: { volts: null, phases: '3', fuse: null, isEarthed: true },
  settings: {
    connection: 'star',
    protectionCurrent: null,
    baseHertz: null,
    baseVolts: null,
    boost: 0,
    points: [],
    highestHertz: null,
    lowestHertz: 0,
    rampUp: 5,
    rampDown: 5,
    stopWay: 'ramp',
    runSource: 'terminals',
    speedSource: 'analog',
  },
  resistor: null,
  belt: {
    steps: [{ name: '', ratio: '1' }],
    inUse: 0,
    speedLimit: null,
    reverses: false,
    pulleyInertia: 0,
    frictionTorque: null,
  },
  tool: { name: '', diameter: null, topSpeed: null, rimSpeed: null, inertia: null },
  wanted: { speed: null, topSpeed: null, startTime: null, stopTime: null, stopEvery: null },
  command: newSpindleCommand('signal'),
  bus: {
    controller: busEnd,
    drive: busEnd,
    crossed: false,
    period: 0.1,
    timeOut: 1,
    lostLink: 'not settled',
    oneBased: false,
    messages: [],
  },
  interlocks: {
    enable: 'wired to the chain',
    tripStopsMachine: true,
    atSpeed: 'input of the controller',
    runSource: 'terminals',
    guardLock: true,
  },
  tachometer: { correction: '', points: [] },
  runTest: {
    speeds: [{ at: 0, speed: null }],
    loadTorque: null,
    loadAt: null,
    loadUntil: null,
    stopAt: 20,
    cutAt: null,
    cutUntil: null,
    withResistor: true,
    duration: 30,
  },
  acceptance: newSpindleAcceptance,
  keying: { found: {}, notes: {}, given: {}, done: [] },
  link: { kind: 'tcp', host: '127.0.0.1', port: 502, unit: 1, profileId: null },
  unread: {},
});
