import { divide, exact, exactRatio, multiply, rationalFromNumber, type Exact } from '../quantity/index.ts';
import { all, known, map, unknown, valueOf, type Evaluation, type Outcome } from '../sheet/index.ts';
import { hertzOf, signalFor, spindleSignalUnit } from './spindleCommand.ts';
import type { SpindleInput } from './spindleInput.ts';
import type { SpindleValues } from './spindleValues.ts';

export const spindleStationKinds = ['word', 'signal', 'drive', 'motor', 'belt', 'tool'] as const;
export type SpindleStationKind = (typeof spindleStationKinds)[number];

/** A station of a spindle’s chain, and the unit of what leaves it. */
export interface SpindleStation {
  readonly kind: SpindleStationKind;
  readonly unit: string;
}

/** The stations from the speed command to the tool. */
export const spindleStationsOf = ({ command }: SpindleInput): readonly SpindleStation[] => [
  { kind: 'word', unit: 'rpm' },
  { kind: 'signal', unit: spindleSignalUnit(command) },
  { kind: 'drive', unit: 'Hz' },
  { kind: 'motor', unit: 'rpm' },
  { kind: 'belt', unit: 'rpm' },
  { kind: 'tool', unit: 'm/s' },
];

/** A value at a station; `text` where a number does not say it. */
export interface SpindleProbeValue {
  readonly value: Exact;
  readonly text?: string;
}

export type SpindleProbe = Readonly<Record<SpindleStationKind, Outcome<SpindleProbeValue>>>;

const plain = (outcome: Outcome<Exact>): Outcome<SpindleProbeValue> => map(outcome, (value) => ({ value }));

/**
 * Sends a value through the chain: from the command word downwards, as the drive rounds it (whole counts, the nearest
 * fixed speed); from any other station exactly. Slip is neglected: motor and tool turn at synchronous speed.
 */
export function probeSpindle(
  { command, tool }: SpindleInput,
  results: Evaluation<SpindleValues>,
  at: SpindleStationKind,
  value: Exact,
): SpindleProbe {
  const { poles, hertzPerToolRpm, beltRatio } = results;
  const scale = all<[number, Exact, Exact]>(poles, hertzPerToolRpm, beltRatio);
  if (scale.state === 'unknown') {
    const nothing = (kind: SpindleStationKind) => (kind === at ? known({ value }) : scale);
    return {
      ...{ word: nothing('word'), signal: nothing('signal'), drive: nothing('drive') },
      ...{ motor: nothing('motor'), belt: nothing('belt'), tool: nothing('tool') },
    };
  }
  const [count, perRpm, ratio] = scale.value;
  const diameter = map(tool.diameter, (width) => exactRatio(rationalFromNumber(width)));
  // m/s at the rim for one rpm: π · d / 60
  const rim = map(diameter, (width) => multiply(width, exact(1, 60, 1)));
  const asked = hertzAsked();
  const signal = map(asked, (hertz) => signalFor(command, count, hertz));
  const sent = signal.state === 'known' ? signal.value : signal;
  // The word is rounded on its way; what is typed further down stands as it is.
  const real = at === 'word' ? map(sent, ({ hertz }) => hertz) : asked;
  const speed = map(real, (hertz) => divide(hertz, perRpm));
  return {
    word: at === 'word' ? known({ value }) : plain(map(asked, (hertz) => divide(hertz, perRpm))),
    signal: at === 'signal' ? typedSignal() : sent,
    drive: plain(real),
    motor: plain(map(real, (hertz) => multiply(hertz, exact(120, count)))),
    belt: plain(speed),
    tool: plain(map(all<[Exact, Exact]>(speed, rim), ([rpm, each]) => multiply(rpm, each))),
  };

  function hertzAsked(): Outcome<Exact> {
    switch (at) {
      case 'word':
      case 'belt':
        return known(multiply(value, perRpm));
      case 'signal':
        return hertzOf(command, count, value);
      case 'drive':
        return known(value);
      case 'motor':
        return known(multiply(divide(value, ratio), perRpm));
      case 'tool':
        return map(rim, (each) => multiply(divide(value, each), perRpm));
    }
  }

  function typedSignal(): Outcome<SpindleProbeValue> {
    if (command.kind !== 'fixedSpeeds') return known({ value });
    const pattern = command.speeds.find((each) => BigInt(`0b${each.pattern}`) === value.ratio.numerator)?.pattern;
    return known({ value, ...(pattern ? { text: pattern } : {}) });
  }
}

/** Reads a pattern of inputs typed at the signal station as its number. */
export const patternValue = (text: string): Outcome<Exact> =>
  /^[01]{1,8}$/.test(text.trim())
    ? known(exact(parseInt(text.trim(), 2)))
    : unknown('enter the levels of the inputs, such as 10');

/** rpm of the tool at which the probe starts: the wanted speed, or 1000. */
export const probeStart = (results: Evaluation<SpindleValues>): Exact =>
  exactRatio(rationalFromNumber(valueOf(results.wantedSpeed) ?? 1000));
