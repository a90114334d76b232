import type { LiveState } from '@kavrid/contract';
import { axisRecord } from './screen.tsx';

/** What is known of a drive that is linked, confirmed and at rest, for tests of pages. */
export const linkedState = {
  kind: 'axis',
  memberId: 'a',
  link: 'up',
  message: '',
  deviceState: 'switch on disabled',
  activity: 'idle',
  holder: 'nobody',
  version: axisRecord().version,
  identity: { kind: 1, firmware: 1, serial: 7, mark: '1:7', isWeak: false, isConfirmed: true },
  unchecked: [],
  pastFaults: [],
  temporary: [],
  readings: { channels: [], values: {} },
  inputs: [],
  outputs: [],
  walk: undefined,
} as unknown as LiveState;
