import type { SpindleFinding } from '@kavrid/core/findings';

/** What has to be settled about a spindle, a view each. */
export type SpindleTopic = 'chain' | 'curve' | 'ramps' | 'bus';

/** The fields of each topic, by how their path begins; the first that fits has the finding. */
const starts: readonly (readonly [string, SpindleTopic])[] = [
  ['/settings/rampUp', 'ramps'],
  ['/settings/rampDown', 'ramps'],
  ['/settings/runSource', 'bus'],
  ['/settings/speedSource', 'bus'],
  ['/interlocks/guardLock', 'ramps'],
  ['/wanted/startTime', 'ramps'],
  ['/wanted/stopTime', 'ramps'],
  ['/resistor', 'ramps'],
  ['/interlocks', 'bus'],
  ['/bus', 'bus'],
  ['/settings', 'curve'],
  ['/supply', 'curve'],
  ['/motor', 'curve'],
  ['/drive', 'curve'],
];

export const spindleTopicOf = ({ path }: SpindleFinding): SpindleTopic =>
  starts.find(([start]) => path.startsWith(start))?.[1] ?? 'chain';
