import type { Finding } from '@kavrid/core/findings';

/** What has to be settled about the signals of an axis. */
export type SignalTopic =
  'direction' | 'pulses' | 'levels' | 'cable' | 'scale' | 'zero' | 'loop' | 'moves' | 'protection' | 'wires';

export const signalTopicTitles: Readonly<Record<SignalTopic, string>> = {
  direction: 'Direction',
  pulses: 'Pulses',
  levels: 'Levels and cable',
  cable: 'Cable',
  scale: 'Scale',
  zero: 'Zero and calibration',
  loop: 'Position loop in the controller',
  moves: 'Moves picked by inputs',
  protection: 'Enable, alarm, limits',
  wires: 'Wires',
};

/** The fields of each topic, by how their path begins; the first that fits has the finding, with the first topic there is. */
const starts: readonly (readonly [string, ...SignalTopic[]])[] = [
  ['/wires', 'wires'],
  ['/protection/limits/plusInputAt', 'direction'],
  ['/command/inverted', 'direction'],
  ['/pair/secondSense', 'direction'],
  ['/protection', 'protection'],
  ['/settings/enableActiveLevel', 'protection'],
  ['/settings/limitActiveLevel', 'protection'],
  ['/pair/commonTrip', 'protection'],
  ['/cable', 'levels', 'cable'],
  ['/signal/output', 'levels'],
  ['/command/electrical', 'levels'],
  ['/signal', 'pulses'],
  ['/drive/minimumPulseWidth', 'pulses'],
  ['/command/rate', 'pulses'],
  ['/command/repeatPeriod', 'pulses'],
  ['/command/loop', 'loop'],
  ['/command/standing', 'zero'],
  ['/command/switchedOn', 'zero'],
  ['/command/creep', 'zero'],
  ['/command/deadband', 'zero'],
  ['/command/moves', 'moves'],
  ['/command/edges', 'moves'],
  ['/command/minimumInputDuration', 'moves'],
  ['/command/startDelay', 'moves'],
  ['/command/nothing', 'moves'],
  ['/command/homing', 'moves'],
  ['/command/patternAtEnable', 'moves'],
  ['/command/torqueLimits', 'moves'],
  ['/command', 'scale'],
];

/** Whether a finding is about the signals. */
export const isAboutSignals = ({ path }: Finding): boolean => starts.some(([start]) => path.startsWith(start));

/** Whether a finding belongs to a topic; what its command has no topic for stands with the command itself. */
export function isAbout(topic: SignalTopic, { path }: Finding, topics: readonly SignalTopic[]): boolean {
  const [, ...own] = starts.find(([start]) => path.startsWith(start)) ?? [];
  return own.length > 0 && (own.find((each) => topics.includes(each)) ?? topics[1]) === topic;
}
