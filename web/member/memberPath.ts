import type { MemberDocument } from '@kavrid/contract';

/** Where an axis or a spindle is set up. */
export const memberPath = (machineId: string, id: string, kind: MemberDocument['kind']): string =>
  `/machines/${machineId}/${kind === 'axis' ? 'axes' : 'spindles'}/${id}/chain`;
