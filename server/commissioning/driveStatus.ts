const faults: Readonly<Record<number, string>> = {
  0x8130: 'The watchdog stopped the axis: no sign of life came from the screen.',
  0x8611: 'Following error beyond its window: the axis did not follow the command.',
  0xff01: 'Homing failed: a limit switch came on where it should not.',
};

/** Registers read at every look at the drive. */
export const statusKeys = [
  'statusword',
  'modeDisplay',
  'positionCounts',
  'velocityCounts',
  'followingErrorCounts',
  'torque',
  'inputs',
  'errorCode',
  'traceHead',
  'traceTrigger',
  'homed',
] as const;

/** What one look at the drive gives, raw. */
export type DriveStatus = Readonly<Record<(typeof statusKeys)[number], number>>;

/** What the drive's error code means; undefined without an error. */
export function faultText({ errorCode }: DriveStatus): string | undefined {
  return errorCode === 0 ? undefined : (faults[errorCode] ?? `Drive error 0x${errorCode.toString(16)}.`);
}
