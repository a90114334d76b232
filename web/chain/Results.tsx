import { axisSheet, type AxisValues } from '@kavrid/core/chain';
import { exactToText, formatExact, formatNumber, isRational, toNumber } from '@kavrid/core/quantity';
import { isExact, workingOf } from '@kavrid/core/sheet';
import { Box, Popover, Typography } from '@mui/material';
import { memo, useState } from 'react';
import { useAxis } from '../axis/axisContext.ts';
import { numberFace } from '../theme.ts';
import { useShownUnits, type ShownUnits } from '../ui/units.ts';

type Symbol = keyof AxisValues & string;

const groups: readonly (readonly [string, readonly Symbol[]])[] = [
  [
    'Scaling',
    [
      'countsPerRevolution',
      'transmissionRatio',
      'travelPerTurn',
      'countsPerPulse',
      'pulsesPerRevolution',
      'stepsPerUnit',
    ],
  ],
  [
    'Resolution',
    [
      'commandResolution',
      'feedbackResolution',
      'wantedRatio',
      'ratioError',
      'driftOverTravel',
      'driftPerThousandTurns',
    ],
  ],
  [
    'Speed',
    [
      'highestSpeed',
      'bindingLimits',
      'speedAtControllerRate',
      'speedAtDriveRate',
      'speedAtMotor',
      'pulseRateAtWantedSpeed',
      'motorSpeedAtWantedSpeed',
    ],
  ],
  [
    'Load',
    ['inertiaRatio', 'frictionTorque', 'gravityTorque', 'testMovePeakTorque', 'testMoveRmsTorque', 'testMoveRmsSpeed'],
  ],
];

const leading: ReadonlySet<string> = new Set(['pulsesPerRevolution', 'stepsPerUnit', 'highestSpeed', 'bindingLimits']);

/** Every result with its unit; choosing one shows how it came about. */
export function Results() {
  const { computation } = useAxis();
  const units = useShownUnits(computation.input.axisUnit);
  const [open, setOpen] = useState<{ readonly symbol: Symbol; readonly at: HTMLElement }>();
  const working = open && workingOf(axisSheet, computation.results, open.symbol);
  const reasons = new Set(
    groups
      .flatMap(([, symbols]) => symbols.map((symbol) => computation.results[symbol]))
      .flatMap((outcome) => (outcome.state === 'unknown' ? [outcome.because] : [])),
  );
  return (
    <>
      {reasons.size > 0 && (
        <Box sx={{ borderLeft: 3, borderColor: 'warning.main', pl: 0.75, mb: 0.75 }}>
          <Typography variant="body2">What is unknown here waits for this:</Typography>
          <Box component="ul" sx={{ m: 0, pl: 2, fontSize: 12.5, color: 'text.secondary' }}>
            {[...reasons].map((reason) => (
              <li key={reason}>{reason}</li>
            ))}
          </Box>
        </Box>
      )}
      {groups.map(([title, symbols]) => (
        <Box key={title} sx={{ mb: 0.5, ...rowStyles }}>
          <Typography variant="h3" color="text.secondary" sx={{ borderBottom: 1, borderColor: 'divider' }}>
            {title}
          </Typography>
          {symbols.map((symbol) => {
            const formula = axisSheet.bySymbol.get(symbol);
            return (
              <ResultRow
                key={symbol}
                symbol={symbol}
                label={formula?.label ?? symbol}
                {...shownResult(computation.results[symbol], formula?.unit ?? '', units)}
                open={setOpen}
              />
            );
          })}
        </Box>
      ))}
      <Popover
        open={open !== undefined}
        anchorEl={open?.at}
        onClose={() => setOpen(undefined)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
      >
        {working && (
          <Box role="dialog" aria-label={`Working of ${working.label}`} sx={{ p: 1.5, maxWidth: 460 }}>
            <Typography variant="h3">{working.label}</Typography>
            <Box
              component="dl"
              sx={{
                m: 0,
                display: 'grid',
                gridTemplateColumns: 'auto 1fr',
                columnGap: 1.5,
                fontFamily: numberFace,
                fontSize: 13,
                '& dt': { fontFamily: 'inherit', color: 'text.secondary' },
                '& dd': { m: 0, overflowWrap: 'anywhere' },
              }}
            >
              <dt>formula</dt>
              <dd>{working.expression}</dd>
              <dt>numbers</dt>
              <dd>{working.numbers}</dd>
              <dt>result</dt>
              <dd>
                {working.result} {working.unit.replace('{u}', computation.input.axisUnit)}
              </dd>
              <dt>source</dt>
              <dd>{working.source}</dd>
            </Box>
          </Box>
        )}
      </Popover>
    </>
  );
}

const rowStyles = {
  '& button': {
    all: 'unset',
    boxSizing: 'border-box',
    cursor: 'pointer',
    display: 'grid',
    gridTemplateColumns: 'minmax(0, 1fr) auto 74px',
    columnGap: 0.75,
    width: '100%',
    alignItems: 'baseline',
    fontSize: 12.5,
    lineHeight: 1.42,
    '&:hover': { bgcolor: 'action.hover' },
    '&:focus-visible': { outline: '2px solid', outlineColor: 'primary.main', outlineOffset: 1 },
  },
  '& .value, & .unknown': { textAlign: 'right' },
  '& .value': { fontFamily: numberFace },
  '& .unknown, & .unit': { color: 'text.secondary' },
  '& .leading .value': { color: 'primary.main', fontWeight: 600 },
} as const;

interface ShownResult {
  readonly text: string;
  readonly unit: string;
  readonly isUnknown: boolean;
}

/**
 * Drawn anew only when what it shows has changed; plain elements, styled from {@link rowStyles}, because an edit may touch
 * twenty of them between two frames.
 */
const ResultRow = memo(function ResultRow(
  props: ShownResult & {
    readonly symbol: Symbol;
    readonly label: string;
    readonly open: (chosen: { readonly symbol: Symbol; readonly at: HTMLElement }) => void;
  },
) {
  const { symbol, label, text, unit, isUnknown, open } = props;
  return (
    <button
      type="button"
      data-result={symbol}
      onClick={(event) => open({ symbol, at: event.currentTarget })}
      title="How this came about"
      className={leading.has(symbol) ? 'leading' : undefined}
    >
      <span>{label}</span>
      <span className={isUnknown ? 'unknown' : 'value'}>{text}</span>
      <span className="unit">{unit}</span>
    </button>
  );
});

function shownResult(outcome: AxisOutcome, template: string, units: ShownUnits): ShownResult {
  if (outcome.state === 'unknown') return { text: 'unknown', unit: '', isUnknown: true };
  const { value } = outcome;
  if (typeof value === 'number')
    return { text: formatNumber(units.shown(value, template)), unit: units.name(template), isUnknown: false };
  if (isExact(value)) {
    const number = toNumber(value);
    const shown = units.shown(number, template);
    const fraction = isRational(value) && shown === number ? exactToText(value) : '';
    const text = formatExact(value, 8);
    const both = text.startsWith('≈') && fraction !== '' && fraction.length <= 12;
    return {
      text: shown !== number ? formatNumber(shown, 8) : both ? `${fraction} ${text}` : text,
      unit: units.name(template),
      isUnknown: false,
    };
  }
  return { text: Array.isArray(value) ? value.join(', ') : '', unit: '', isUnknown: false };
}

type AxisOutcome = ReturnType<typeof useAxis>['computation']['results'][Symbol];
