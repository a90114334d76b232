import type { Severity } from '@kavrid/core/findings';
import { probe, type Station } from '@kavrid/core/chain';
import { exact, exactToText, formatExact, parseQuantity, type Exact } from '@kavrid/core/quantity';
import { Typography, useTheme } from '@mui/material';
import { memo, useState } from 'react';
import { useAxis } from '../axis/axisContext.ts';
import { numberFace } from '../theme.ts';
import { severityLook } from '../ui/FindingList.tsx';
import { useShownUnits } from '../ui/units.ts';
import { sheetOf } from '../ui/sheetOf.tsx';
import { useSteady } from '../ui/useSteady.ts';
import { StationGlyph } from './StationGlyph.tsx';
import { stationName } from './stationName.ts';

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
  const leave = useSteady(() => read?.error && setTyped(undefined));
  const worst = (station: Station): Severity | undefined =>
    findings.find(
      (finding) =>
        finding.station === station.kind &&
        (station.kind !== 'stage' || finding.path.includes(station.id.replace('stage-', 'stages/'))),
    )?.severity;
  return (
    <section className="chain" aria-label="Chain">
      {sheet}
      <div className="strip" style={{ minWidth: stations.length * 132 }}>
        <div aria-hidden className="shaft" />
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
                  : outcome?.state === 'known'
                    ? showValue(outcome.value, station, input.axisUnit, units.unit)
                    : ''
              }
              unit={unitOf(station)}
              error={isSource ? read?.error : undefined}
              because={outcome?.state === 'unknown' ? outcome.because : undefined}
              choose={steadyChoose}
              type={type}
              leave={leave}
            />
          );
        })}
      </div>
      {read?.error && (
        <Typography role="alert" variant="body2" color="error" sx={{ px: 1, pb: 0.5 }}>
          {read.error}
        </Typography>
      )}
    </section>
  );
}

/** One station: plain elements, drawn anew only when what they show has changed, because a probe or an edit touches all. */
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
    readonly leave: () => void;
  },
) {
  const { id, severity, isChosen, isSource, text, unit, error, because, choose, type, leave } = props;
  const name = stationName(props);
  return (
    <div className={isChosen ? 'station chosen' : 'station'}>
      <StationHead {...props} name={name} severity={severity} choose={choose} />
      <input
        className={error ? 'wrong' : isSource ? 'source' : undefined}
        value={text}
        placeholder="unknown"
        onChange={(event) => type(id, event.target.value)}
        onBlur={leave}
        aria-label={`${name}: ${unit}`}
        aria-invalid={error !== undefined}
        title={error ?? (because === undefined ? undefined : `Unknown, because ${because}`)}
      />
      <div className="unit">{unit}</div>
    </div>
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
    const { id, name, severity, isChosen, choose } = props;
    const theme = useTheme();
    return (
      <button type="button" onClick={() => choose(id)} aria-pressed={isChosen}>
        <span className="name">
          {name}
          {severity && (
            <span className={`dot ${severity}`} role="img" aria-label={`${severityLook[severity].word} at ${name}`} />
          )}
        </span>
        <StationGlyph
          station={props}
          ink={theme.palette.text.primary}
          accent={theme.palette.primary.main}
          paper={theme.palette.background.paper}
        />
      </button>
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

const sheet = sheetOf('chain', {
  overflowX: 'auto',
  bgcolor: 'background.paper',
  border: 1,
  borderColor: 'divider',
  borderRadius: 1,
  '& .strip': { display: 'flex', position: 'relative' },
  '& .shaft': { position: 'absolute', left: 0, right: 0, top: 67, height: 6, bgcolor: 'divider' },
  '& .station': {
    flex: 1,
    minWidth: 132,
    textAlign: 'center',
    position: 'relative',
    pb: 1,
    contain: 'content',
    borderTop: 3,
    borderColor: 'transparent',
  },
  '& .station.chosen': { bgcolor: 'action.selected', borderColor: 'primary.main' },
  '& .station button': {
    display: 'block',
    width: '100%',
    pt: 0.5,
    px: 0,
    pb: 0,
    border: 0,
    bgcolor: 'transparent',
    font: 'inherit',
    cursor: 'pointer',
    '&:focus-visible': { outline: '2px solid', outlineColor: 'primary.main', outlineOffset: -2 },
  },
  '& .name': {
    display: 'flex',
    justifyContent: 'center',
    alignItems: 'center',
    gap: 0.5,
    height: 22,
    fontSize: '0.86rem',
    fontWeight: 600,
    color: 'text.primary',
  },
  '& .dot': { width: 10, height: 10, borderRadius: '50%' },
  '& .dot.stop': { bgcolor: severityLook.stop.colour },
  '& .dot.warn': { bgcolor: severityLook.warn.colour },
  '& .dot.note': { bgcolor: severityLook.note.colour },
  '& input': {
    width: 118,
    p: '3px 2px',
    fontFamily: numberFace,
    fontSize: 13,
    textAlign: 'center',
    color: 'text.primary',
    bgcolor: 'background.default',
    border: 1,
    borderColor: 'divider',
    '&:focus-visible': { outline: '2px solid', outlineColor: 'primary.main' },
  },
  '& input.source': { borderColor: 'primary.main', fontWeight: 600 },
  '& input.wrong': { borderColor: 'error.main' },
  '& .chosen .unit.unit': { color: 'text.primary' },
  '& .unit': { fontSize: '0.8rem', lineHeight: 1.43, color: 'text.secondary' },
});

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
  const parsed = parseQuantity(text, rule, assumed);
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
