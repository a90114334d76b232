import type { LiveState } from '@kavrid/contract';
import { axisRecord } from './screen.tsx';

/** An enabled, homed axis whose drive this window controls. */
export const liveAxis: LiveState = {
  memberId: 'a',
  link: 'up',
  message: '',
  deviceState: 'operation enabled',
  activity: 'idle',
  position: 123.4567,
  inputs: [],
  outputs: [],
  otherFirmware: undefined,
  walk: undefined,
  readings: {
    channels: [
      { id: 'speed', label: 'Speed', unit: '{u}/s', decimals: 1 },
      { id: 'followingError', label: 'Following error', unit: '{u}', decimals: 3 },
      { id: 'temperature', label: 'Drive temperature', unit: '°C', decimals: 0 },
    ],
    values: { speed: 10, followingError: 0.01, temperature: 41 },
  },
  minusLimit: false,
  plusLimit: false,
  homed: true,
  fault: undefined,
  pastFaults: [],
  progress: '',
  kind: 'axis',
  watchdog: 200,
  temporary: [],
  version: axisRecord().version,
  holder: 'this window',
  isWatchOnly: false,
  identity: { kind: 1, firmware: 1, serial: 7, mark: '1:7', isWeak: false, isConfirmed: true },
  isStopping: false,
  unchecked: [],
  address: { kind: 'tcp', host: '127.0.0.1', port: 5502, unit: 1 },
  jogLimit: { speed: 250, by: 'the reduced speed for jogging' },
  isSuspended: false,
  homing: undefined,
  homingSeries: undefined,
};
