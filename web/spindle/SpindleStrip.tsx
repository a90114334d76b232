import {
  exact,
  exactToText,
  formatExact,
  formatNumber,
  parseQuantity,
  toNumber,
  type Exact,
} from '@kavrid/core/quantity';
import { valueOf, type Outcome } from '@kavrid/core/sheet';
import {
  patternValue,
  probeSpindle,
  probeStart,
  spindleStationsOf,
  type SpindleProbeValue,
  type SpindleStation,
  type SpindleStationKind,
} from '@kavrid/core/spindle';
import { useState } from 'react';
import { localeMark } from '../ui/localeMark.ts';
import { Strip, StripCell, StripHead } from '../ui/Strip.tsx';
import { useSteady } from '../ui/useSteady.ts';
import { SpindleGlyph } from './SpindleGlyph.tsx';
import { useSpindle } from '../member/useSpindle.ts';
import { spindleStationTitles } from '../member/spindleStationTitles.ts';

/** The spindle from its speed command to its tool. A value typed at one station is worked out at all the others. */
export function SpindleStrip(props: {
  readonly chosen: SpindleStationKind;
  readonly choose: (kind: SpindleStationKind) => void;
}) {
  const { input, results, findings } = useSpindle().computation;
  const stations = spindleStationsOf(input);
  const [typed, setTyped] = useState<{ readonly at: SpindleStationKind; readonly text: string }>();
  const at = typed && stations.find(({ kind }) => kind === typed.at);
  const read = typed && at && readTyped(typed.text, at);
  const source =
    typed && read?.state === 'known'
      ? { at: typed.at, value: read.value }
      : { at: 'word' as const, value: probeStart(results) };
  const probe = probeSpindle(input, results, source.at, source.value);
  const error = read?.state === 'unknown' && typed?.text.trim() !== '' ? read.because : undefined;
  const type = useSteady((kind: string, text: string) => setTyped({ at: kind as SpindleStationKind, text }));
  const choose = useSteady((kind: string) => props.choose(kind as SpindleStationKind));
  return (
    <Strip stations={stations.length} error={error}>
      {stations.map(({ kind, unit }) => {
        const outcome = probe[kind];
        const isTyped = typed?.at === kind;
        return (
          <StripCell
            key={kind}
            id={kind}
            name={spindleStationTitles[kind]}
            isChosen={props.chosen === kind}
            isSource={source.at === kind}
            text={
              isTyped ? typed.text : error !== undefined ? '' : kind === 'tool' ? rimSpeed(outcome) : shown(outcome)
            }
            unit={unit}
            error={isTyped ? error : undefined}
            because={outcome.state === 'unknown' ? outcome.because : undefined}
            type={type}
          >
            <StripHead
              id={kind}
              name={spindleStationTitles[kind]}
              severity={findings.find((finding) => finding.station === kind)?.severity}
              isChosen={props.chosen === kind}
              choose={choose}
            >
              <SpindleGlyph kind={kind} command={input.command.kind} reverses={input.reverses} />
            </StripHead>
          </StripCell>
        );
      })}
    </Strip>
  );
}

function readTyped(text: string, { unit }: SpindleStation): Outcome<Exact> {
  if (unit === 'inputs') return patternValue(text);
  const isPlain = unit.startsWith('%') || unit === 'counts';
  const parsed = parseQuantity(text, { unit: isPlain ? '' : unit }, isPlain ? '' : unit, localeMark());
  switch (parsed.kind) {
    case 'value':
      return { state: 'known', value: parsed.value };
    case 'empty':
      return { state: 'unknown', because: '' };
    case 'error':
      return { state: 'unknown', because: parsed.message };
  }
}

/** At the rim π comes in, and nobody wants to read it. */
const rimSpeed = (outcome: Outcome<SpindleProbeValue>): string =>
  outcome.state === 'known' ? formatNumber(toNumber(outcome.value.value), 5) : '';

function shown(outcome: Outcome<SpindleProbeValue>): string {
  const value = valueOf(outcome);
  if (!value) return '';
  if (value.text !== undefined) return value.text;
  const text = formatExact(value.value, 7);
  const fraction = exactToText(exact(value.value.ratio.numerator, value.value.ratio.denominator, value.value.piPower));
  return text.startsWith('≈') && fraction.length <= 9 ? fraction : text;
}
