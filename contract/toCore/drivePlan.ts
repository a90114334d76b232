import type { AxisInput, AxisValues } from '@kavrid/core/chain';
import type { ParameterRole } from '@kavrid/core/drive';
import { homingMethodFacts } from '@kavrid/core/homing';
import { formatNumber } from '@kavrid/core/quantity';
import type { Evaluation } from '@kavrid/core/sheet';
import type { AxisDocument } from '../documents.ts';
import { number, planOf, word, type Plan } from './plannedSetting.ts';
import { commandDriveSettings } from '../commands/commandFaces.ts';

type Results = Evaluation<AxisValues>;

/** Contacts in the words of both ends. */
export const contactWords = { normallyClosed: 'normally closed', normallyOpen: 'normally open' } as const;

/** Everything planned for the drive of an axis, by what it means: the one source of what is keyed in and of what is written. */
export function drivePlan(axis: AxisDocument, input: AxisInput, results: Results): Plan<ParameterRole> {
  const { settings, homing, protection } = axis;
  const u = input.axisUnit;
  return planOf<ParameterRole>({
    ...commandDriveSettings({ axis, input, results, travel: undefined }),
    rotationSense: word(settings.rotationSense === 'clockwise' ? 'clockwise' : 'counter-clockwise', {
      raw: settings.rotationSense === 'clockwise' ? 1 : 0,
    }),
    enableActiveLevel: word(settings.enableActiveLevel, { raw: settings.enableActiveLevel === 'high' ? 1 : 0 }),
    limitActiveLevel: word(settings.limitActiveLevel, { raw: settings.limitActiveLevel === 'high' ? 1 : 0 }),
    alarmContact: word(contactWords[protection.alarm.contact]),
    inertiaRatio: number(settings.inertiaRatio, ''),
    positionGain: holdsPosition(axis) ? number(settings.positionGain, '1/s') : undefined,
    speedBandwidth: number(settings.speedBandwidth, 'rad/s'),
    speedIntegralTime: number(settings.speedIntegralTime, 'ms'),
    velocityFeedforward: holdsPosition(axis) ? number(settings.velocityFeedforward, '%') : undefined,
    accelerationFeedforward: holdsPosition(axis) ? number(settings.accelerationFeedforward, '%') : undefined,
    torqueFilter: number(settings.torqueFilter, 'ms'),
    notchFrequency: number(settings.notchFrequency, 'Hz'),
    notchWidth: number(settings.notchWidth, '%'),
    notchDepth: number(settings.notchDepth, 'dB'),
    waitSpeedGap: holdsPosition(axis) ? number(axis.moves.wait.speedGap, `${u}/s`) : undefined,
    waitPositionGap: holdsPosition(axis) ? number(axis.moves.wait.positionGap, u) : undefined,
    torqueLimit: number(settings.torqueLimit, '%'),
    followingErrorWindow: holdsPosition(axis) ? number(settings.followingErrorWindow, u) : undefined,
    ...(homing.by === 'drive'
      ? {
          minusSoftLimit: number(settings.minusSoftLimit, u),
          plusSoftLimit: number(settings.plusSoftLimit, u),
          homingMethod:
            typeof homing.method === 'number'
              ? number(homing.method, '')
              : word(`${homingMethodFacts(homing.method).name}: see the manual for its number`),
          homingSearchSpeed: number(homing.searchSpeed, `${u}/s`),
          homingCreepSpeed: number(homing.creepSpeed, `${u}/s`),
          homingAcceleration: number(homing.acceleration, `${u}/s²`),
          homingIndexPulse: homingMethodFacts(homing.method).usesIndex ? number(homing.indexPulse, '') : undefined,
          homingMostTravel: number(homing.mostTravel, u),
          homingTorqueLimit: number(homing.torqueLimit, '%'),
          // Drives differ in what they make of an offset; over a link the map says it.
          homeOffset: homing.positionAtHome
            ? word(`so that home reads ${formatNumber(homing.positionAtHome)} ${u}: see the manual for its sign`)
            : number(homing.positionAtHome, u),
        }
      : {}),
    ...brakePlan(axis, 'drive'),
  });
}

/** The delays of a holding brake, at the end that drives it. */
export const brakePlan = ({ brake }: AxisDocument, end: 'drive' | 'controller') =>
  brake.drivenBy === end
    ? { brakeReleaseDelay: number(brake.releaseDelay, 's'), brakeEngageDelay: number(brake.engageDelay, 's') }
    : {};

/** A drive with a speed or torque command closes no position loop. */
export const holdsPosition = ({ command }: AxisDocument) => !('from' in command) || command.meaning === 'position';
