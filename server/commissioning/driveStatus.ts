const faults: Readonly<Record<number, string>> = {
  0x2310: 'Overcurrent: too much load, a ramp that is too short, or a base frequency below that of the plate.',
  0x2311: 'Overload: more than the current of the protection for too long.',
  0x3210: 'Overvoltage of the DC bus: the stop gave back more than it takes.',
  0x3220: 'Undervoltage of the DC bus: the supply is off or too weak.',
  0x8130: 'The watchdog stopped the motor: no sign of life came over the link.',
  0x8611: 'Following error beyond its window: the axis did not follow the command.',
  0xff01: 'Homing failed: a limit switch came on where it should not.',
};

/** Registers read at every look at a servo drive. */
export const statusKeys = [
  'modeDisplay',
  'positionCounts',
  'velocityCounts',
  'followingErrorCounts',
  'torque',
  'inputs',
  'traceHead',
  'traceTrigger',
  'homed',
] as const;

/** What one look at a drive gives, raw. */
export type StatusOf<K extends string> = Readonly<Record<K | 'statusword' | 'errorCode', number>>;
export type ServoKey = (typeof statusKeys)[number];
export type DriveStatus = StatusOf<ServoKey>;

/** Registers read at every look at a spindle drive. */
export const spindleKeys = [
  'outputHertz',
  'actualMotorSpeed',
  'motorCurrent',
  'motorTorque',
  'busVolts',
  'traceHead',
  'traceTrigger',
] as const;
export type SpindleKey = (typeof spindleKeys)[number];

/** What the drive's error code means; undefined without an error. */
export function faultText({ errorCode }: Pick<DriveStatus, 'errorCode'>): string | undefined {
  return errorCode === 0 ? undefined : (faults[errorCode] ?? `Drive error 0x${errorCode.toString(16)}.`);
}
