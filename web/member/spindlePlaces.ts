import type { SpindleStationKind } from '@kavrid/core/spindle';
import type { Place } from '../ui/place.ts';
import { spindleStationTitles } from './spindleStationTitles.ts';

/** The pages of a spindle that have fields, in the order of the job. */
export const spindlePages = {
  chain: 'Plates and scaling',
  curve: 'Connection and curve',
  ramps: 'Ramps and braking',
  bus: 'Command and interlocks',
  ends: 'Key-in sheets',
  drive: 'Drive data',
  run: 'Run test',
  traces: 'Traces',
  acceptance: 'Acceptance',
  tachometer: 'Tachometer check',
} as const;
type SpindlePage = keyof typeof spindlePages;

type At = { readonly station: SpindleStationKind } | { readonly page: SpindlePage };

/** The place of each field, by how its path begins; the first that fits has it. */
const starts: readonly (readonly [RegExp, At])[] = [
  [/^\/settings\/(ramp|stopWay)|^\/interlocks\/guardLock|^\/wanted\/(start|stop)|^\/resistor/, { page: 'ramps' }],
  [/^\/settings\/(run|speed)Source|^\/interlocks|^\/bus|^\/drive\/(answerDelay|oneBased|registers)/, { page: 'bus' }],
  [/^\/settings|^\/supply/, { page: 'curve' }],
  [/^\/runTest/, { page: 'run' }],
  [/^\/tachometer/, { page: 'tachometer' }],
  [/^\/acceptance/, { page: 'acceptance' }],
  [/^\/link/, { page: 'drive' }],
  [/^\/keying/, { page: 'ends' }],
  [/^\/drive|^\/limits/, { station: 'drive' }],
  [/^\/motor/, { station: 'motor' }],
  [/^\/belt/, { station: 'belt' }],
  [/^\/tool|^\/name|^\/notes/, { station: 'tool' }],
  [/^\/command/, { station: 'signal' }],
];

/** Where a field of a spindle stands. */
export function spindlePlace(path: string): Place {
  const at = starts.find(([start]) => start.test(path))?.[1] ?? { station: 'word' };
  return 'page' in at
    ? { page: at.page, words: spindlePages[at.page] }
    : { page: 'chain', at: at.station, words: `${spindlePages.chain} › ${spindleStationTitles[at.station]}` };
}
