import type { MemberDocument } from '@kavrid/contract';

const folders: Readonly<Record<MemberDocument['kind'], string>> = { axis: 'axes', spindle: 'spindles' };

/** Where an axis or a spindle is set up. */
export const memberPath = (machineId: string, id: string, kind: MemberDocument['kind']): string =>
  `/machines/${machineId}/${folders[kind]}/${id}/chain`;
