import type { Severity } from '@kavrid/core/findings';
import { probe, type Station } from '@kavrid/core/chain';
import { exact, exactToText, formatExact, parseQuantity, type Exact } from '@kavrid/core/quantity';
import { useTheme } from '@mui/material';
import { memo, useState } from 'react';
import { useAxis } from '../member/useAxis.ts';
import { localeMark } from '../ui/localeMark.ts';
import { Strip, StripCell, StripHead } from '../ui/Strip.tsx';
import { useShownUnits } from '../ui/units.ts';
import { useSteady } from '../ui/useSteady.ts';
import { StationGlyph } from './StationGlyph.tsx';
import { stationName } from '../member/stationName.ts';

/** The axis as a shaft that runs through its stations. A value typed at one of them is worked out at all the others. */
export function ChainStrip({ chosen, choose }: { readonly chosen: string; readonly choose: (id: string) => void }) {
  const { computation } = useAxis();
  const { stations, findings, input } = computation;
  const shown = stations.some(({ id }) => id === chosen) ? chosen : stations[0]?.id;
  const units = useShownUnits(input);
  const [typed, setTyped] = useState<{ readonly at: string; readonly text: string }>();
  const unitOf = (station: Station) =>
    isOfAxis(station, input.axisUnit) ? station.leaves.replace(input.axisUnit, units.unit) : station.leaves;
  const start: { readonly at: string; readonly value: Exact } = {
    at: 'load',
    value: exact(units.unit === 'in' ? 254 : 10),
  };
  const read =
    typed &&
    parseTyped(
      typed.text,
      stations.find((each) => each.id === typed.at),
      input.axisUnit,
      units.unit,
    );
  const source = typed && read?.value ? { at: typed.at, value: read.value } : start;
  const values = probe(stations, source.at, source.value);
  const steadyChoose = useSteady(choose);
  const type = useSteady((at: string, text: string) => setTyped({ at, text }));
  const worst = (station: Station): Severity | undefined =>
    findings.find(
      (finding) =>
        finding.station === station.kind &&
        (station.kind !== 'stage' || finding.path.includes(station.id.replace('stage-', 'stages/'))),
    )?.severity;
  return (
    <Strip stations={stations.length} error={read?.error}>
      {stations.map((station) => {
        const outcome = values[station.id];
        const isSource = typed?.at === station.id;
        return (
          <StationCell
            key={station.id}
            id={station.id}
            kind={station.kind}
            stage={station.stage}
            sign={station.sign}
            leaves={station.leaves}
            severity={worst(station)}
            isChosen={shown === station.id}
            isSource={source.at === station.id}
            text={
              isSource
                ? typed.text
                : outcome?.state === 'known' && !read?.error
                  ? showValue(outcome.value, station, input.axisUnit, units.unit)
                  : ''
            }
            unit={unitOf(station)}
            error={isSource ? read?.error : undefined}
            because={outcome?.state === 'unknown' ? outcome.because : undefined}
            choose={steadyChoose}
            type={type}
          />
        );
      })}
    </Strip>
  );
}

/** One station, redrawn only when what it shows has changed. */
const StationCell = memo(function StationCell(
  props: Pick<Station, 'id' | 'kind' | 'stage' | 'sign' | 'leaves'> & {
    readonly severity: Severity | undefined;
    readonly isChosen: boolean;
    readonly isSource: boolean;
    readonly text: string;
    readonly unit: string;
    readonly error: string | undefined;
    readonly because: string | undefined;
    readonly choose: (id: string) => void;
    readonly type: (id: string, text: string) => void;
  },
) {
  const name = stationName(props);
  return (
    <StripCell {...props} name={name}>
      <StationHead {...props} name={name} />
    </StripCell>
  );
});

/** Its name, findings and drawing: they change seldom. */
const StationHead = memo(
  function StationHead(
    props: Pick<Station, 'id' | 'kind' | 'stage' | 'sign' | 'leaves'> & {
      readonly name: string;
      readonly severity: Severity | undefined;
      readonly isChosen: boolean;
      readonly choose: (id: string) => void;
    },
  ) {
    const { palette } = useTheme();
    return (
      <StripHead {...props}>
        <StationGlyph
          station={props}
          ink={palette.text.primary}
          accent={palette.primary.main}
          paper={palette.background.paper}
        />
      </StripHead>
    );
  },
  (a, b) =>
    a.id === b.id &&
    a.name === b.name &&
    a.sign === b.sign &&
    a.leaves === b.leaves &&
    a.severity === b.severity &&
    a.isChosen === b.isChosen,
);

/** Whether a station leaves a way or a speed in the unit of the axis. */
const isOfAxis = ({ leaves }: Station, axisUnit: string) => leaves.split('/')[0] === axisUnit;

function parseTyped(
  text: string,
  station: Station | undefined,
  axisUnit: string,
  shownUnit: string,
): { readonly value?: Exact; readonly error?: string } {
  if (!station) return {};
  const { leaves } = station;
  const bare = leaves === 'pulses' || leaves === 'counts' || leaves === '%';
  const rule = { unit: leaves === 'turns' ? 'rev' : bare ? '' : leaves };
  const assumed = isOfAxis(station, axisUnit) ? leaves.replace(axisUnit, shownUnit) : rule.unit;
  const parsed = parseQuantity(text, rule, assumed, localeMark());
  return parsed.kind === 'value' ? { value: parsed.value } : parsed.kind === 'error' ? { error: parsed.message } : {};
}

function showValue(value: Exact, station: Station, axisUnit: string, shownUnit: string): string {
  const inShown =
    isOfAxis(station, axisUnit) && shownUnit === 'in'
      ? { ...value, ratio: { numerator: value.ratio.numerator * 5n, denominator: value.ratio.denominator * 127n } }
      : value;
  const reduced = exact(inShown.ratio.numerator, inShown.ratio.denominator, inShown.piPower);
  const text = formatExact(reduced, 8);
  const fraction = exactToText(reduced);
  return text.startsWith('≈') && fraction.length <= 9 ? fraction : text;
}
