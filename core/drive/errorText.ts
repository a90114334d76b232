const faults: Readonly<Record<number, string>> = {
  0x2310: 'Overcurrent: too much load, a ramp that is too short, or a base frequency below that of the nameplate.',
  0x2311: 'Overload: the current was above the motor protection setting for too long.',
  0x3210: 'DC bus overvoltage: the stop returned more energy than the bus can absorb.',
  0x3220: 'DC bus undervoltage: the supply is off or too weak.',
  0x7320: 'Position sensor: an absolute encoder has lost its turns, for want of its battery, or does not answer.',
  0x5300: 'The command signal is missing: its wire is broken, or the controller sends none.',
  0x8130: 'The watchdog stopped the motor: nothing was received over the link in time.',
  0x8611: 'The following error exceeded its window: the axis did not follow the command.',
  0xff01: 'Homing failed.',
};

/** What an error code means (object 0x603F of CiA 402, from memory); undefined without an error. */
export const errorText = (errorCode: number): string | undefined =>
  errorCode === 0 ? undefined : (faults[errorCode] ?? `Drive error 0x${errorCode.toString(16)}.`);
