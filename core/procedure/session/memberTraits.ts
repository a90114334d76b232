import { statusBit, type DriveProfile, type ParameterRole, type SpindleDriveRole } from '../../drive/index.ts';
import type { MemberPlan } from './memberPlan.ts';

/** What a look at a drive shows of its motion. */
interface Look {
  readonly values: Readonly<Record<string, number>>;
  /** Its motor is off. */
  readonly isOff: boolean;
  readonly plan: MemberPlan | undefined;
  readonly profile: DriveProfile | undefined;
}

/** What a session looks for at the drive of each kind of member. */
interface MemberTraits {
  /** Registers of one look, as far as its map has them. */
  readonly statusRegisters: readonly string[];
  /** The parameter of its watchdog, and how many ms one of its unit is. */
  readonly watchdog: { readonly role: ParameterRole | SpindleDriveRole; readonly milliseconds: number };
  /** Whether a look shows it at rest; without a register of speed, that its motor is off. */
  readonly stands: (look: Look) => boolean;
}

/** rpm of a spindle’s motor below which it stands */
const standingRpm = 20;

export const memberTraits: Readonly<Record<MemberPlan['memberKind'], MemberTraits>> = {
  axis: {
    statusRegisters: [
      'statusword',
      'errorCode',
      'modeDisplay',
      'positionCounts',
      'velocityCounts',
      'followingErrorCounts',
      'torque',
      'inputs',
      'inputLevels',
      'inputStates',
      'inputForceMask',
      'outputStates',
      'traceHead',
      'traceTrigger',
      'homed',
      'homingFailure',
    ],
    watchdog: { role: 'watchdogTime', milliseconds: 1 },
    stands: ({ values, isOff, plan }) => {
      const { velocityCounts, statusword = 0 } = values;
      if (velocityCounts === undefined) return isOff || (statusword & statusBit.targetReached) !== 0;
      return Math.abs(velocityCounts) <= (plan?.motion.kind === 'axis' ? plan.motion.standstill : 0);
    },
  },
  spindle: {
    statusRegisters: [
      'statusword',
      'errorCode',
      'outputHertz',
      'actualMotorSpeed',
      'motorCurrent',
      'motorTorque',
      'busVolts',
      'outputStates',
      'traceHead',
      'traceTrigger',
    ],
    watchdog: { role: 'busTimeOut', milliseconds: 1000 },
    stands: ({ values, isOff, profile }) => {
      const { actualMotorSpeed, outputHertz = 0 } = values;
      if (actualMotorSpeed === undefined) return isOff;
      const rpm = actualMotorSpeed * (profile?.registers.actualMotorSpeed?.scale ?? 1);
      return Math.abs(rpm) < standingRpm && outputHertz === 0;
    },
  },
};
