import { divide, equals, exact, type Exact } from '@kavrid/core/quantity';
import { all, allOf, known, map, unknown, type Outcome } from '@kavrid/core/sheet';
import type { SerialLine, TwoPointScale } from '@kavrid/core/signal';
import {
  spindleSignalRange,
  type BusEnd,
  type FieldBus,
  type PollMessage,
  type RunTestInput,
  type SpeedWord,
  type SpindleCommand,
  type SpindleInput,
} from '@kavrid/core/spindle';
import type { SpindleDocument } from '../spindleDocument.ts';
import { fieldReader, type FieldProblem, type ReadNumber, type ReadText } from './fieldReader.ts';

export interface SpindleReading {
  readonly input: SpindleInput;
  readonly problems: readonly FieldProblem[];
}

/** Reads a spindle into the computation. An empty field is unknown; a field that cannot be read is unknown and a problem. */
export function spindleInputOf(spindle: SpindleDocument): SpindleReading {
  const { problems, text, number } = fieldReader('mm');
  const { motor, drive, supply, settings, belt, tool, wanted, resistor, interlocks, tachometer } = spindle;
  const connection = (which: 'star' | 'delta') => {
    const [volts, amps] = [motor[`${which}Volts`], motor[`${which}Amps`]];
    return volts === null || amps === null ? undefined : { volts, amps };
  };
  const correction =
    tachometer.correction.trim() === ''
      ? known(exact(1))
      : text('/tachometer/correction', 'the correction', tachometer.correction, 'speedCorrection');
  const steps = belt.steps.map(({ name, ratio }, index) => ({
    name,
    ratio: map(
      all<[Exact, Exact]>(
        text(`/belt/steps/${index}/ratio`, `the ratio of belt step ${index + 1}`, ratio, 'beltRatio'),
        correction,
      ),
      // A tool that turns too slowly is one with more motor turns to it.
      ([plain, factor]) => divide(plain, factor),
    ),
  }));
  const millimetres = (path: string, label: string, value: number | null) =>
    map(number(path, label, value), (width) => width / 1000);
  const input: SpindleInput = {
    plate: {
      power: number('/motor/power', 'the nameplate power', motor.power),
      hertz: number('/motor/hertz', 'the rated frequency', motor.hertz),
      speed: number('/motor/speed', 'the rated speed', motor.speed),
      poles: motor.poles === null ? unknown('the nameplate does not give the number of poles') : known(motor.poles),
      star: connection('star'),
      delta: connection('delta'),
      powerFactor: number('/motor/powerFactor', 'the power factor', motor.powerFactor),
    },
    overload: number('/motor/overload', 'the motor overload', motor.overload),
    rotorInertia: number('/motor/rotorInertia', 'the rotor inertia', motor.rotorInertia),
    bearingSpeed: number('/motor/bearingSpeed', 'the bearing speed limit', motor.bearingSpeed),
    coolingHertz: number('/motor/coolingHertz', 'the lowest frequency for cooling', motor.coolingHertz),
    supply: {
      volts: number('/supply/volts', 'the supply voltage', supply.volts),
      phases: supply.phases === '1' ? 1 : 3,
      fuse: number('/supply/fuse', 'the fuse', supply.fuse),
      isEarthed: supply.isEarthed,
    },
    drive: {
      ratedCurrent: number('/drive/ratedCurrent', 'the drive’s rated current', drive.ratedCurrent),
      overload: number('/drive/overload', 'the drive overload', drive.overload),
      supplyLeast: number('/drive/supplyLeast', 'the drive’s lowest supply voltage', drive.supplyLeast),
      supplyMost: number('/drive/supplyMost', 'the drive’s highest supply voltage', drive.supplyMost),
      phases: drive.phases,
      highestHertz: number('/drive/highestHertz', 'the drive’s highest frequency', drive.highestHertz),
      resolution: number('/drive/resolution', 'the drive’s frequency resolution', drive.resolution),
      capacitance: map(
        number('/drive/capacitance', 'the DC bus capacitance', drive.capacitance),
        (microfarads) => microfarads / 1e6,
      ),
      tripVolts: number('/drive/tripVolts', 'the overvoltage trip level', drive.tripVolts),
      chopperVolts: number('/drive/chopperVolts', 'the chopper voltage', drive.chopperVolts),
      leastVolts: number('/drive/leastVolts', 'the undervoltage trip level', drive.leastVolts),
      hasChopper: drive.hasChopper,
      leastOhms: number('/drive/leastOhms', 'the lowest resistor value', drive.leastOhms),
      idlePower: number('/drive/idlePower', 'the drive’s own power consumption', drive.idlePower),
      dischargeTime: number('/drive/dischargeTime', 'the discharge time', drive.dischargeTime),
    },
    settings: {
      connection: settings.connection,
      protectionCurrent: number(
        '/settings/protectionCurrent',
        'the motor protection current',
        settings.protectionCurrent,
      ),
      base: allOf({
        hertz: number('/settings/baseHertz', 'the base frequency', settings.baseHertz),
        volts: number('/settings/baseVolts', 'the base voltage', settings.baseVolts),
      }),
      boost: number('/settings/boost', 'the boost', settings.boost),
      points: settings.points.flatMap(({ hertz, volts }) =>
        hertz === null || volts === null ? [] : [{ hertz, volts }],
      ),
      highestHertz: number('/settings/highestHertz', 'the highest frequency set', settings.highestHertz),
      lowestHertz: number('/settings/lowestHertz', 'the lowest frequency set', settings.lowestHertz),
      rampUp: number('/settings/rampUp', 'the ramp up', settings.rampUp),
      rampDown: number('/settings/rampDown', 'the ramp down', settings.rampDown),
      stopWay: settings.stopWay,
      runSource: settings.runSource,
      speedSource: settings.speedSource,
    },
    resistor: resistor
      ? {
          ohms: number('/resistor/ohms', 'the brake resistor value', resistor.ohms),
          power: number('/resistor/power', 'the brake resistor power rating', resistor.power),
        }
      : undefined,
    steps,
    step: steps[belt.inUse] ?? { name: '', ratio: unknown('there is no such belt step', '/belt/inUse') },
    beltSpeed: number('/belt/speedLimit', 'the belt speed limit', belt.speedLimit),
    tool: {
      diameter: millimetres('/tool/diameter', 'the tool diameter', tool.diameter),
      topSpeed: number('/tool/topSpeed', 'the tool’s speed limit', tool.topSpeed),
      rimSpeed: number('/tool/rimSpeed', 'the rim speed limit', tool.rimSpeed),
      inertia: number('/tool/inertia', 'the tool inertia', tool.inertia),
    },
    pulleyInertia: number('/belt/pulleyInertia', 'the pulley inertia', belt.pulleyInertia),
    frictionTorque: number('/belt/frictionTorque', 'the friction', belt.frictionTorque),
    wanted: {
      speed: number('/wanted/speed', 'the wanted speed', wanted.speed),
      topSpeed: number('/wanted/topSpeed', 'the highest wanted speed', wanted.topSpeed),
      startTime: number('/wanted/startTime', 'the wanted start time', wanted.startTime),
      stopTime: number('/wanted/stopTime', 'the wanted stop time', wanted.stopTime),
      stopEvery: number('/wanted/stopEvery', 'the time between stops', wanted.stopEvery),
    },
    command: readCommand(spindle.command, text, number),
    reverses: belt.reverses,
    bus: spindle.command.kind === 'fieldBus' ? readBus(spindle, number) : undefined,
    interlocks,
    tachometer: tachometer.points.flatMap(({ commanded, measured }) =>
      commanded === null || measured === null ? [] : [{ commanded, measured }],
    ),
    runTest: readRunTest(spindle.runTest, number),
  };
  return { input, problems };
}

function readCommand(command: SpindleDocument['command'], text: ReadText, number: ReadNumber): SpindleCommand {
  switch (command.kind) {
    case 'fixedSpeeds':
      return {
        kind: command.kind,
        speeds: command.speeds.map(({ pattern, hertz }, index) => ({
          pattern,
          hertz: number(`/command/speeds/${index}/hertz`, `the speed of ${pattern}`, hertz),
        })),
      };
    case 'fieldBus':
      return { kind: command.kind, word: readWord(command, number) };
    case 'signal': {
      const { unit } = spindleSignalRange(command.signal);
      const point = (end: 'from' | 'to', words: string) =>
        allOf({
          signal: text(
            `/command/${end}/signal`,
            `the ${words} signal, in ${unit}`,
            command[end].signal,
            'spindleSignal',
          ),
          value: text(
            `/command/${end}/hertz`,
            `the frequency at the ${words} signal`,
            command[end].hertz,
            'signalHertz',
          ),
        });
      const points = allOf({ from: point('from', 'lower'), to: point('to', 'upper') });
      const alike = points.state === 'known' ? alikeIn(points.value) : undefined;
      return {
        kind: command.kind,
        signal: command.signal,
        scale:
          alike === undefined
            ? points
            : unknown(`the two points of the scale have the same ${alike}`, `/command/to/${alike}`),
        ...(alike === undefined ? {} : { alike }),
        senderSteps: number('/command/senderSteps', 'the steps of the controller', command.senderSteps),
        takerSteps: number('/command/takerSteps', 'the steps of the drive', command.takerSteps),
        controllerTop: number('/command/controllerTop', 'the controller’s speed at full signal', command.controllerTop),
      };
    }
  }
}

/** In what two points of a scale are alike, so that they give none. */
const alikeIn = ({ from, to }: TwoPointScale) =>
  equals(from.signal, to.signal) ? 'signal' : equals(from.value, to.value) ? 'hertz' : undefined;

function readWord(
  { counts, each, fullScale, fullHertz, signed, bits }: Extract<SpindleDocument['command'], { kind: 'fieldBus' }>,
  number: ReadNumber,
): Outcome<SpeedWord> {
  const shape = { signed, bits: bits === '16' ? 16 : 32 } as const;
  if (counts === 'share')
    return map(
      allOf({
        fullScale: number('/command/fullScale', 'the full-scale counts', fullScale),
        hertz: number('/command/fullHertz', 'the full-scale frequency', fullHertz),
      }),
      (scale) => ({ ...shape, counts: { kind: counts, ...scale } }),
    );
  return map(number('/command/each', 'the value of one count', each), (worth) => ({
    ...shape,
    counts: { kind: counts, each: worth },
  }));
}

function readBus({ bus, drive }: SpindleDocument, number: ReadNumber): FieldBus {
  const end = (which: 'controller' | 'drive'): BusEnd => {
    const { baud, parity, stopBits, address, positiveLabel, negativeLabel } = bus[which];
    return {
      line: map(number(`/bus/${which}/baud`, `the baud rate of the ${which}`, baud), (rate): SerialLine => ({
        baud: rate,
        parity,
        stopBits: stopBits === '1' ? 1 : 2,
      })),
      address: number(`/bus/${which}/address`, `the address at the ${which}`, address),
      positiveLabel,
      negativeLabel,
    };
  };
  const delay = number('/drive/answerDelay', 'the drive response time', drive.answerDelay);
  const messages = bus.messages.map(({ name, functionCode, register, registers }, index) =>
    map(
      allOf({
        register: number(`/bus/messages/${index}/register`, `the register of “${name}”`, register),
        registers: number(`/bus/messages/${index}/registers`, `the registers of “${name}”`, registers),
        answerDelay: delay,
      }),
      (given): PollMessage => ({ ...given, name, functionCode: Number(functionCode) as PollMessage['functionCode'] }),
    ),
  );
  return {
    controller: end('controller'),
    drive: end('drive'),
    messages:
      messages.length === 0
        ? unknown('the poll list has no message', '/bus/messages')
        : (all<PollMessage[]>(...messages) as Outcome<readonly PollMessage[]>),
    period: number('/bus/period', 'the poll period', bus.period),
    timeOut: number('/bus/timeOut', 'the drive’s communication timeout', bus.timeOut),
    lostLink: bus.lostLink,
    crossed: bus.crossed,
  };
}

function readRunTest(test: SpindleDocument['runTest'], number: ReadNumber): RunTestInput {
  const speeds = test.speeds.map(({ at, speed }, index) =>
    allOf({
      at: number(`/runTest/speeds/${index}/at`, `the time of speed ${index + 1}`, at),
      toolSpeed: number(`/runTest/speeds/${index}/speed`, `speed ${index + 1} of the run test`, speed),
    }),
  );
  return {
    speeds:
      speeds.length === 0
        ? unknown('the run test has no speed', '/runTest/speeds')
        : all<{ at: number; toolSpeed: number }[]>(...speeds),
    load:
      test.loadTorque === null
        ? known(undefined)
        : allOf({
            at: number('/runTest/loadAt', 'the time of the load', test.loadAt),
            until: number('/runTest/loadUntil', 'the end of the load', test.loadUntil),
            torque: known(test.loadTorque),
          }),
    stopAt: number('/runTest/stopAt', 'the time of the stop', test.stopAt),
    supplyCut: test.cutAt === null ? undefined : { at: test.cutAt, until: test.cutUntil ?? Infinity },
    withResistor: test.withResistor,
    duration: number('/runTest/duration', 'the length of the run test', test.duration),
  };
}
