import { isPulseCommand, stageName, type AxisDocument } from '@kavrid/contract';
import type { Station } from '@kavrid/core/chain';
import type { Place } from '../ui/place.ts';
import { signalTopicTitles, type SignalTopic } from './signalTopics.ts';
import { stationName } from './stationName.ts';

/** The pages of an axis that have fields, in the order of the job. */
export const axisPages = {
  chain: 'Plates and scaling',
  signals: 'Signals',
  values: 'Planned values',
  ends: 'Key-in sheets',
  drive: 'Drive data',
  inputs: 'Inputs',
  homing: 'Homing',
  moves: 'Jog, home, test moves',
  'host-moves': 'Moves by the controller',
  traces: 'Traces',
  tuning: 'Tuning',
  acceptance: 'Acceptance',
  measure: 'Measure the scaling',
} as const;
type AxisPage = keyof typeof axisPages;

type At =
  | { readonly station: Exclude<Station['kind'], 'stage'> }
  | { readonly topic: SignalTopic }
  | { readonly page: AxisPage };

/** The place of each field, by how its path begins; the first that fits has it. */
const starts: readonly (readonly [RegExp, At])[] = [
  [
    /^\/protection\/limits\/plusInputAt|^\/command\/inverted|^\/settings\/rotationSense|^\/plusEnd/,
    { topic: 'direction' },
  ],
  [/^\/pair/, { station: 'load' }],
  [/^\/wires/, { topic: 'wires' }],
  [/^\/protection|^\/settings\/(enable|limit)ActiveLevel/, { topic: 'protection' }],
  [/^\/signal\/output|^\/drive\/pulseInput|^\/controller\/output/, { topic: 'levels' }],
  [/^\/signal|^\/drive\/(minimumPulseWidth|directionSetUp)/, { topic: 'pulses' }],
  [/^\/command\/loop/, { topic: 'loop' }],
  [/^\/command\/(standing|switchedOn|creep|trimStep|calibration)/, { topic: 'zero' }],
  [/^\/command\/(moves|edges|torque|patternAtEnable)/, { topic: 'moves' }],
  [
    /^\/command\/(drive|deadband|filter|gainForm|captureClock|raw|numerator|denominator|sharedWith|fault|minimumInput|startDelay|stored|nothing|homing)/,
    { station: 'drive' },
  ],
  [/^\/command|^\/controller|^\/wanted/, { station: 'controller' }],
  [/^\/motor/, { station: 'motor' }],
  [/^\/load|^\/motion|^\/name|^\/notes/, { station: 'load' }],
  [/^\/homing/, { page: 'homing' }],
  [/^\/tuning/, { page: 'tuning' }],
  [/^\/acceptance/, { page: 'acceptance' }],
  [/^\/settings|^\/brake/, { page: 'values' }],
  [/^\/moves\/host/, { page: 'host-moves' }],
  [/^\/testMove|^\/jogSpeed|^\/moves/, { page: 'moves' }],
  [/^\/measured/, { page: 'measure' }],
  [/^\/link/, { page: 'drive' }],
  [/^\/keying/, { page: 'ends' }],
];

/** Where a field of an axis stands. What has no field of its own is led to the drive. */
export function axisPlace({ stages, command }: Pick<AxisDocument, 'stages' | 'command'>, path: string): Place {
  const stage = /^\/stages(?:\/(\d+))?/.exec(path);
  if (stage) {
    const index = Number(stage[1] ?? 0);
    const kind = stages[index]?.kind;
    return onChain(kind === undefined ? 'motor' : `stage-${index}`, kind === undefined ? 'Motor' : stageName(kind));
  }
  if (path.startsWith('/cable')) return underSignals(isPulseCommand(command) ? 'levels' : 'cable');
  const at = starts.find(([start]) => start.test(path))?.[1] ?? { station: 'drive' };
  if ('station' in at) return onChain(at.station, stationName({ kind: at.station }));
  if ('topic' in at) return underSignals(at.topic);
  return { page: at.page, words: axisPages[at.page] };
}

const onChain = (station: string, name: string): Place => ({
  page: 'chain',
  at: station,
  words: `${axisPages.chain} › ${name}`,
});

const underSignals = (topic: SignalTopic): Place => ({
  page: 'signals',
  at: topic,
  words: `${axisPages.signals} › ${signalTopicTitles[topic]}`,
});
