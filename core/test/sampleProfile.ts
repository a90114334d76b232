import type { DriveParameter, DriveProfile } from '../drive/index.ts';

const parameter = (key: string, index: number, more: Partial<DriveParameter> = {}): DriveParameter => ({
  key,
  label: key,
  group: 'test',
  type: 'i32',
  scale: 1,
  unit: '',
  minimum: 0,
  maximum: 1000000,
  factory: 1,
  takesEffect: 'at once',
  address: 100 + 2 * index,
  running: 200 + 2 * index,
  stored: 300 + 2 * index,
  factoryAddress: 400 + 2 * index,
  choices: {},
  help: '',
  ...more,
});

/** Three parameters, one of which waits for a restart. */
export const smallProfile: DriveProfile = {
  name: 'small',
  wordOrder: 'high word first',
  watchdogFedBy: 'nothing',
  parameters: [
    parameter('gearNumerator', 0, { takesEffect: 'after restart' }),
    parameter('positionGain', 1, { scale: 0.1, unit: '1/s', maximum: 500 }),
    parameter('torqueLimit', 2),
  ],
  inputs: [],
  outputs: [],
  homing: {},
  firmwares: [],
  registers: {},
};
