import type { Finding } from '@kavrid/core/findings';

/** What has to be settled about the signals of an axis. */
export type SignalTopic = 'direction' | 'pulses' | 'levels' | 'protection';

/** The fields of each topic, by how their path begins; the first that fits has the finding. */
const starts: readonly (readonly [string, SignalTopic])[] = [
  ['/protection/limits/plusInputAt', 'direction'],
  ['/command/inverted', 'direction'],
  ['/pair/secondSense', 'direction'],
  ['/protection', 'protection'],
  ['/settings/enableActiveLevel', 'protection'],
  ['/settings/limitActiveLevel', 'protection'],
  ['/pair/commonTrip', 'protection'],
  ['/cable', 'levels'],
  ['/signal/output', 'levels'],
  ['/command/electrical', 'levels'],
  ['/signal', 'pulses'],
  ['/command', 'pulses'],
  ['/drive/minimumPulseWidth', 'pulses'],
];

export const topicOf = ({ path }: Finding): SignalTopic | undefined =>
  starts.find(([start]) => path.startsWith(start))?.[1];

export const isAbout = (topic: SignalTopic, finding: Finding): boolean => topicOf(finding) === topic;
