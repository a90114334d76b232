import {
  genericSpindleControllerValues,
  genericSpindleDriveValues,
  keyInSheet,
  pollListValues,
  pollRole,
  type PlannedSetting,
  type SpindleControllerRole,
  type SpindleDriveRole,
  type SpindleList,
} from '@kavrid/core/drive';
import { toNumber } from '@kavrid/core/quantity';
import { valueOf, type Evaluation } from '@kavrid/core/sheet';
import { spindleSignalUnit, type SpindleInput, type SpindleValues } from '@kavrid/core/spindle';
import type { SpindleDriveEntry } from '../library/spindleDriveEntry.ts';
import type { SpindleDocument } from '../spindleDocument.ts';
import { givenAt } from './givenAt.ts';
import type { EndSheets } from './endPlans.ts';
import { exactNumber, number, planOf, word, type Plan } from './plannedSetting.ts';

type Results = Evaluation<SpindleValues>;

/** The two key-in sheets of a spindle: its drive in the codes of its library entry, its controller with the poll list. */
export function spindleEndSheets(
  spindle: SpindleDocument,
  input: SpindleInput,
  results: Results,
  driveEntry: SpindleDriveEntry | undefined,
): EndSheets {
  const { command, bus } = spindle;
  const units = { axisUnit: 'rpm', perCount: undefined, perPulse: undefined, perMotorTurn: undefined };
  const list: SpindleList = {
    kind: command.kind,
    signalUnit: spindleSignalUnit(input.command),
    patterns: command.kind === 'fixedSpeeds' ? command.speeds.map(({ pattern }) => pattern) : [],
  };
  const own = driveEntry && driveEntry.values.length > 0 ? driveEntry.values : undefined;
  const polls = command.kind === 'fieldBus' ? bus.messages : [];
  return {
    controller: keyInSheet(
      [...genericSpindleControllerValues(list), ...pollListValues(polls.map(({ name }) => name))],
      new Map<string, PlannedSetting>([...controllerPlan(spindle, results), ...pollPlan(spindle)]),
      units,
      givenAt(spindle.keying, 'controller'),
    ),
    drive: keyInSheet(
      own ?? genericSpindleDriveValues(list),
      spindleDrivePlan(spindle, input, results),
      units,
      givenAt(spindle.keying, 'drive'),
    ),
  };
}

/** What is to be set at the drive of a spindle. */
export function spindleDrivePlan(
  { motor, settings, command, bus, resistor }: SpindleDocument,
  input: SpindleInput,
  results: Results,
): Plan<SpindleDriveRole> {
  const [p1, p2, p3] = settings.points;
  return planOf<SpindleDriveRole>({
    motorPower: number(motor.power, 'W'),
    motorHertz: number(motor.hertz, 'Hz'),
    motorVolts: number(valueOf(results.motorVolts), 'V'),
    motorSpeed: number(motor.speed, 'rpm'),
    motorPoles: number(valueOf(results.poles), ''),
    protectionCurrent: number(settings.protectionCurrent, 'A'),
    baseHertz: number(settings.baseHertz, 'Hz'),
    baseVolts: number(settings.baseVolts, 'V'),
    boost: number(settings.boost, 'V'),
    point1Hertz: number(p1?.hertz, 'Hz'),
    point1Volts: number(p1?.volts, 'V'),
    point2Hertz: number(p2?.hertz, 'Hz'),
    point2Volts: number(p2?.volts, 'V'),
    point3Hertz: number(p3?.hertz, 'Hz'),
    point3Volts: number(p3?.volts, 'V'),
    highestHertz: number(settings.highestHertz, 'Hz'),
    lowestHertz: number(settings.lowestHertz, 'Hz'),
    rampUp: number(settings.rampUp, 's'),
    rampDown: number(settings.rampDown, 's'),
    stopWay: word(settings.stopWay),
    runSource: word(settings.runSource),
    speedSource: word(settings.speedSource),
    brakeResistor: word(resistor ? 'yes' : 'no'),
    ...commandPlan(command, input),
    // Also of a spindle commanded otherwise: it is the watchdog of Kavrid's own link.
    busTimeOut: number(bus.timeOut, 's'),
    ...(command.kind === 'fieldBus'
      ? {
          ...linePlan(bus.drive),
          lostLink: bus.lostLink === 'not settled' ? undefined : word(bus.lostLink),
        }
      : {}),
  });
}

function commandPlan(
  command: SpindleDocument['command'],
  input: SpindleInput,
): Partial<Record<SpindleDriveRole, PlannedSetting | undefined>> {
  switch (command.kind) {
    case 'signal': {
      const scale = input.command.kind === 'signal' ? valueOf(input.command.scale) : undefined;
      return {
        signalRange: word(command.signal),
        signalLow: exactNumber(scale?.from.signal, ''),
        signalLowHertz: number(scale && toNumber(scale.from.value), 'Hz'),
        signalHigh: exactNumber(scale?.to.signal, ''),
        signalHighHertz: number(scale && toNumber(scale.to.value), 'Hz'),
      };
    }
    case 'fixedSpeeds':
      return Object.fromEntries(
        command.speeds.map(({ hertz }, k) => [`fixedSpeed${k + 1}`, number(hertz, 'Hz')]),
      ) as Partial<Record<SpindleDriveRole, PlannedSetting | undefined>>;
    case 'fieldBus':
      return {
        speedWordUnit: word(
          command.counts === 'share'
            ? `${command.fullScale ?? '?'} = ${command.fullHertz ?? '?'} Hz`
            : `${command.each ?? '?'} ${command.counts === 'hertz' ? 'Hz' : 'rpm'}`,
        ),
      };
  }
}

const linePlan = ({ address, baud, parity, stopBits }: SpindleDocument['bus']['drive']) => ({
  busAddress: number(address, ''),
  busBaud: baud === null ? undefined : word(String(baud)),
  busParity: word(parity),
  busStopBits: word(stopBits),
});

function controllerPlan({ command, bus, wanted }: SpindleDocument, results: Results): Plan<SpindleControllerRole> {
  return planOf<SpindleControllerRole>({
    spindleTopSpeed: number(wanted.topSpeed, 'rpm'),
    spindleLowestSpeed: number(wholeUp(valueOf(results.lowestToolSpeed)), 'rpm'),
    spindleRatio: exactNumber(valueOf(results.signalPerToolRpm), ''),
    spindleRatioInverse: exactNumber(valueOf(results.toolRpmPerSignal), ''),
    spindleFullSpeed: number(valueOf(results.toolSpeedAtFullSignal), 'rpm'),
    spindleStartDelay: number(tenths(valueOf(results.plannedStart)), 's'),
    spindleStopDelay: number(tenths(valueOf(results.plannedStop)), 's'),
    ...(command.kind === 'fieldBus' ? { ...linePlan(bus.controller), busPeriod: number(bus.period, 's') } : {}),
  });
}

const wholeUp = (value: number | undefined) => value && Math.ceil(value);
const tenths = (value: number | undefined) => value && Math.ceil(value * 10) / 10;

/** Numbers as the controller counts them: from 0, or from 1. */
const pollPlan = ({ command, bus }: SpindleDocument): readonly (readonly [string, PlannedSetting])[] =>
  command.kind !== 'fieldBus'
    ? []
    : bus.messages.flatMap(({ functionCode, register, registers }, index) =>
        (
          [
            [pollRole(index + 1, 'function'), word(functionCode)],
            [
              pollRole(index + 1, 'register'),
              register === null ? undefined : number(register + (bus.oneBased ? 1 : 0), ''),
            ],
            [pollRole(index + 1, 'registers'), number(registers, '')],
          ] as const
        ).filter((entry): entry is [string, PlannedSetting] => entry[1] !== undefined),
      );
