const faults: Readonly<Record<number, string>> = {
  0x2310: 'Overcurrent: too much load, a ramp that is too short, or a base frequency below that of the nameplate.',
  0x2311: 'Overload: more than the current of the protection for too long.',
  0x3210: 'Overvoltage of the DC bus: the stop returned more energy than it can take.',
  0x3220: 'Undervoltage of the DC bus: the supply is off or too weak.',
  0x8130: 'The watchdog stopped the motor: no sign of life came over the link.',
  0x8611: 'Following error beyond its window: the axis did not follow the command.',
  0xff01: 'Homing failed: a limit switch came on where it should not.',
};

/** What an error code means (object 0x603F of CiA 402, from memory); undefined without an error. */
export const errorText = (errorCode: number): string | undefined =>
  errorCode === 0 ? undefined : (faults[errorCode] ?? `Drive error 0x${errorCode.toString(16)}.`);
