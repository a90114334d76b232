import { byKind, type MemberDocument } from './member.ts';
import { newAxis } from './newAxis.ts';
import { newSpindle } from './newSpindle.ts';

/**
 * Another axis or spindle planned alike. What was seen at the first one (ticks, values found, measured points and the corrections
 * taken from them, creep) belongs to that one alone and is left behind; the user's notes go along.
 */
export function duplicateOf(member: MemberDocument, name: string = member.name): MemberDocument {
  const keying = { ...member.keying, found: {}, done: [] };
  return byKind<MemberDocument>(member, {
    spindle: (spindle) => ({ ...spindle, name, keying, tachometer: newSpindle(name).tachometer }),
    axis: ({ command, ...axis }) => ({
      ...axis,
      name,
      keying,
      measured: newAxis(name, 'linear').measured,
      command: 'calibration' in command ? { ...command, calibration: [], creep: null } : command,
    }),
  });
}
