import type { Severity } from '@kavrid/core/findings';
import { probe, type Station } from '@kavrid/core/chain';
import { exact, exactToText, formatExact, parseQuantity, type Exact } from '@kavrid/core/quantity';
import { Box, ButtonBase, InputBase, Paper, Typography, useTheme } from '@mui/material';
import { memo, useState } from 'react';
import { useAxis } from '../axis/axisContext.ts';
import { numberFace } from '../theme.ts';
import { severityLook } from '../ui/FindingList.tsx';
import { useShownUnits } from '../ui/units.ts';
import { useSteady } from '../ui/useSteady.ts';
import { StationGlyph } from './StationGlyph.tsx';
import { stationName } from './stationName.ts';

/** The axis as a shaft that runs through its stations. A value typed at one of them is worked out at all the others. */
export function ChainStrip({ chosen, choose }: { readonly chosen: string; readonly choose: (id: string) => void }) {
  const { computation } = useAxis();
  const { stations, findings, input } = computation;
  const units = useShownUnits(input);
  const [typed, setTyped] = useState<{ readonly at: string; readonly text: string }>();
  const unitOf = (station: Station) => (station.leaves === input.axisUnit ? units.unit : station.leaves);
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
    <Paper component="section" aria-label="Chain" sx={{ overflowX: 'auto' }}>
      <Box sx={{ display: 'flex', position: 'relative', minWidth: stations.length * 132 }}>
        <Box aria-hidden sx={{ position: 'absolute', left: 0, right: 0, top: 64, height: 6, bgcolor: 'divider' }} />
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
              isChosen={chosen === station.id}
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
      </Box>
      {read?.error && (
        <Typography role="alert" variant="body2" color="error" sx={{ px: 1, pb: 0.5 }}>
          {read.error}
        </Typography>
      )}
    </Paper>
  );
}

/** One station: drawn anew only when what it shows has changed. */
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
  const theme = useTheme();
  const name = stationName(props);
  return (
    <Box
      sx={{
        flex: 1,
        minWidth: 132,
        textAlign: 'center',
        position: 'relative',
        pb: 1,
        bgcolor: isChosen ? 'action.selected' : undefined,
      }}
    >
      <ButtonBase
        onClick={() => choose(id)}
        aria-pressed={isChosen}
        sx={{ display: 'block', width: '100%', pt: 0.5, fontFamily: 'inherit' }}
      >
        <Box sx={{ display: 'flex', justifyContent: 'center', gap: 0.5, height: 22 }}>
          <Typography variant="h3" sx={{ color: isChosen ? 'primary.main' : 'text.primary' }}>
            {name}
          </Typography>
          {severity && (
            <Box
              component="span"
              role="img"
              aria-label={`${severityLook[severity].word} at ${name}`}
              sx={{ width: 10, height: 10, borderRadius: '50%', bgcolor: severityLook[severity].colour, mt: 0.6 }}
            />
          )}
        </Box>
        <StationGlyph
          station={props}
          ink={theme.palette.text.primary}
          accent={theme.palette.primary.main}
          paper={theme.palette.background.paper}
        />
      </ButtonBase>
      <InputBase
        value={text}
        placeholder="unknown"
        onChange={(event) => type(id, event.target.value)}
        onBlur={leave}
        error={error !== undefined}
        inputProps={{
          'aria-label': `${name}: ${unit}`,
          title: error ?? (because === undefined ? undefined : `Unknown, because ${because}`),
          style: {
            textAlign: 'center',
            fontFamily: numberFace,
            fontWeight: isSource ? 600 : 400,
            padding: '1px 2px',
          },
        }}
        sx={{
          width: 118,
          fontSize: 13,
          border: 1,
          borderColor: error ? 'error.main' : isSource ? 'primary.main' : 'divider',
          bgcolor: 'background.default',
        }}
      />
      <Typography variant="body2" color="text.secondary">
        {unit}
      </Typography>
    </Box>
  );
});

function parseTyped(
  text: string,
  station: Station | undefined,
  axisUnit: string,
  shownUnit: string,
): { readonly value?: Exact; readonly error?: string } {
  if (!station) return {};
  const rule = { unit: station.leaves === axisUnit ? axisUnit : station.leaves === 'turns' ? 'rev' : '' };
  const parsed = parseQuantity(text, rule, rule.unit === axisUnit ? shownUnit : rule.unit);
  return parsed.kind === 'value' ? { value: parsed.value } : parsed.kind === 'error' ? { error: parsed.message } : {};
}

function showValue(value: Exact, station: Station, axisUnit: string, shownUnit: string): string {
  const inShown =
    station.leaves === axisUnit && shownUnit === 'in'
      ? { ...value, ratio: { numerator: value.ratio.numerator * 5n, denominator: value.ratio.denominator * 127n } }
      : value;
  const reduced = exact(inShown.ratio.numerator, inShown.ratio.denominator, inShown.piPower);
  const text = formatExact(reduced, 8);
  const fraction = exactToText(reduced);
  return text.startsWith('≈') && fraction.length <= 9 ? fraction : text;
}
