import type { StoredCopy } from './parameterStore.ts';
import { keptCells, RegisterCells, type PlainCell } from './registerCells.ts';
import { readRegisterMap } from './registerMap.ts';
import { ServoDevice, type World } from './servoDevice.ts';

/** The servo device behind 16-bit registers. */
export class DeviceRegisters extends RegisterCells {
  readonly device: ServoDevice;

  constructor(world: World, kept: StoredCopy | undefined, keep: (copy: StoredCopy) => void, serial = 1) {
    const map = readRegisterMap();
    const device = new ServoDevice(map.parameters, world, kept);
    const isRunning = () => device.state === 'operation enabled';
    super({
      device,
      map,
      own: servoCells(device),
      mayWrite: (key) => key !== 'commandSource' || !isRunning(),
      isRunning,
      keep,
      identity: { kind: 0x5301, firmware: 0x00010002, serial },
    });
    this.device = device;
  }
}

function servoCells(device: ServoDevice): Readonly<Record<string, PlainCell>> {
  const kept = keptCells();
  const positive = (name: 'speed' | 'acceleration' | 'deceleration' | 'quickStop') =>
    kept(name, (value) => (value > 0 ? void device.setTarget({ [name]: value }) : false));
  return {
    controlword: kept('controlword', (word) => void device.control(word)),
    modeOfOperation: kept('modeOfOperation', (mode) => {
      if (![0, 1, 3, 6].includes(mode)) return false;
      device.mode = mode;
      return true;
    }),
    targetPosition: kept('targetPosition', (position) => void device.setTarget({ position })),
    targetVelocity: kept('targetVelocity', (velocity) => void device.setTarget({ velocity })),
    profileVelocity: positive('speed'),
    profileAcceleration: positive('acceleration'),
    profileDeceleration: positive('deceleration'),
    profileJerk: kept('jerk', (jerk) => void device.setTarget({ jerk })),
    quickStopDeceleration: positive('quickStop'),
    heartbeat: kept('heartbeat', () => void device.heartbeat()),
    tracePeriod: kept('tracePeriod', (steps) => {
      if (steps < 1) return false;
      device.traceSteps = steps;
      return true;
    }),
    statusword: { read: () => device.statusword },
    modeDisplay: { read: () => device.mode },
    positionCounts: { read: () => device.positionCounts },
    positionIncrements: { read: () => device.positionIncrements },
    velocityCounts: { read: () => device.velocityCounts },
    followingErrorCounts: { read: () => device.followingErrorCounts },
    torque: { read: () => device.torque },
    inputs: { read: () => device.inputs },
    errorCode: { read: () => device.error },
    homed: { read: () => (device.homed ? 1 : 0) },
    encoderIncrements: { read: () => device.motor.countsPerRevolution },
    motorRatedTorque: { read: () => Math.round(1000 * device.motor.ratedTorque) },
    motorPeakTorque: { read: () => Math.round(1000 * device.motor.peakTorque) },
  };
}
