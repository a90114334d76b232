import {
  axisSheets,
  axisWords,
  sheetFor,
  type AxisInput,
  type AxisValues,
  type CommandInput,
} from '@kavrid/core/chain';
import { exactToText, formatExact, formatNumber, isRational, toNumber } from '@kavrid/core/quantity';
import { isExact, workingOf } from '@kavrid/core/sheet';
import { Box, Popover, Typography } from '@mui/material';
import { memo, useState } from 'react';
import { useAxis } from '../axis/axisContext.ts';
import { numberFace } from '../theme.ts';
import { sheetOf } from '../ui/sheetOf.tsx';
import { useShownUnits, type ShownUnits } from '../ui/units.ts';

type Symbol = keyof AxisValues & string;

interface ResultGroup {
  readonly title: string;
  readonly symbols: readonly Symbol[];
  /** Shown only where they are known: nobody has to give what they need. */
  readonly optional?: readonly Symbol[];
}

const mechanics = ['countsPerRevolution', 'transmissionRatio', 'travelPerTurn'] as const;

/** What follows from the command, by its kind. */
function commandGroups(command: CommandInput): readonly ResultGroup[] {
  switch (command.kind) {
    case 'pulses':
      return [
        { title: 'Scaling', symbols: [...mechanics, 'countsPerPulse', 'pulsesPerRevolution', 'stepsPerUnit'] },
        {
          title: 'Resolution',
          symbols: [
            'commandResolution',
            'feedbackResolution',
            'wantedRatio',
            'ratioError',
            'driftOverTravel',
            'driftPerThousandTurns',
          ],
        },
        {
          title: 'Speed',
          symbols: [
            'highestSpeed',
            'bindingLimits',
            'speedAtControllerRate',
            'speedAtDriveRate',
            'speedAtMotor',
            'pulseRateAtWantedSpeed',
            'motorSpeedAtWantedSpeed',
          ],
        },
      ];
    case 'analog':
    case 'pwm':
      return [
        {
          title: 'Scale',
          symbols: ['signalGain', 'valueAtFullSignal', 'signalAtZero'],
          optional: ['valueAtLeastSignal', 'signalAtWantedSpeed', 'deadbandValue', 'creepOffset', 'creepTrim'],
        },
        {
          title: 'Resolution',
          symbols: ['valueStep', 'coarserEnd'],
          optional: ['loadStep', 'controllerSignalStep', 'driveSignalStep', 'feedbackResolution', 'carrierPeriod'],
        },
        ...(command.kind === 'pwm'
          ? [{ title: 'The drive’s whole numbers', symbols: ['rawNumerator', 'rawDenominator', 'rawOffset'] } as const]
          : []),
        {
          title: 'Speed',
          symbols: ['highestSpeed', 'bindingLimits'],
          optional: ['fullCommandSpeed', 'speedAtMotor', 'motorSpeedAtWantedSpeed'],
        },
        ...(command.hostLoop
          ? [
              {
                title: 'Loop in the controller',
                symbols: [
                  'encoderDivider',
                  'hostCountsPerUnit',
                  'hostResolution',
                  'encoderRateAtWantedSpeed',
                  'encoderRateAtFullCommand',
                  'errorOfOneStep',
                  'hostDamping',
                  'runawaySpeed',
                  'runawayDistance',
                ],
              } as const,
            ]
          : []),
        { title: 'Mechanics', symbols: mechanics },
      ];
    case 'choice':
      return [
        { title: 'Scaling', symbols: [...mechanics, 'feedbackResolution'] },
        {
          title: 'Speed',
          symbols: ['highestSpeed', 'bindingLimits', 'speedAtMotor', 'motorSpeedAtWantedSpeed'],
        },
      ];
  }
}

/** The results of an axis, by what it is. */
function groupsOf({ command, train, pair, supply }: AxisInput): readonly ResultGroup[] {
  return [
    ...commandGroups(command),
    ...(train
      ? [
          {
            title: 'Pulse train',
            symbols: [
              'trainDistance',
              'trainTime',
              'trainProfileTime',
              'trainMoveTime',
              'lowestTrainRate',
              'highestPulseRate',
            ],
          } as const,
        ]
      : []),
    {
      title: 'Following error',
      symbols: [],
      optional: ['followingErrorCounts', 'followingErrorAngle', 'steadyLag', 'lagShare'],
    },
    {
      title: 'Load',
      symbols: [
        'inertiaRatio',
        'frictionTorque',
        'gravityTorque',
        'testMovePeakTorque',
        'testMoveRmsTorque',
        'testMoveRmsSpeed',
      ],
      optional: ['backlash', 'backlashCounts', 'criticalSpeed', 'beltStretch'],
    },
    ...(pair ? [{ title: 'Two motors', symbols: ['skewAngle', 'skewCounts'] } as const] : []),
    ...(supply.kind === 'DC'
      ? [
          {
            title: 'DC supply',
            symbols: [],
            optional: [
              'supplyMotorSpeed',
              'supplyPeakCurrent',
              'supplyTotalCurrent',
              'loweringEnergy',
              'brakingEnergy',
              'supplyVoltageAfterBraking',
            ],
          } as const,
        ]
      : []),
  ];
}

const leading: ReadonlySet<string> = new Set([
  'pulsesPerRevolution',
  'stepsPerUnit',
  'highestSpeed',
  'bindingLimits',
  'signalGain',
  'valueStep',
]);

/** Every result with its unit; choosing one shows how it came about. */
export function Results() {
  const { computation } = useAxis();
  const units = useShownUnits(computation.input);
  const [open, setOpen] = useState<{ readonly symbol: Symbol; readonly at: HTMLElement }>();
  const working = open && workingOf(sheetFor(computation.input), computation.results, open.symbol);
  const groups = groupsOf(computation.input);
  const reasons = new Set(
    groups
      .flatMap(({ symbols }) => symbols.map((symbol) => computation.results[symbol]))
      .flatMap((outcome) => (outcome.state === 'unknown' ? [outcome.because] : [])),
  );
  return (
    <>
      {sheet}
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
      {groups.map(({ title, symbols, optional = [] }) => {
        const known = optional.filter((symbol) => isWorthShowing(computation.results[symbol]));
        if (symbols.length + known.length === 0) return null;
        return (
          <div key={title} className="results">
            <h3>{title}</h3>
            {[...symbols, ...known].map((symbol) => {
              const { label, unit } = wordsFor(symbol);
              return (
                <ResultRow
                  key={symbol}
                  symbol={symbol}
                  label={axisWords(label, computation.input)}
                  {...shownResult(computation.results[symbol], unit, units)}
                  open={setOpen}
                />
              );
            })}
          </div>
        );
      })}
      {open && (
        <Popover
          open
          anchorEl={open.at}
          onClose={() => setOpen(undefined)}
          anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        >
          {working && (
            <Box
              role="dialog"
              aria-label={`Working of ${axisWords(working.label, computation.input)}`}
              sx={{ p: 1.5, maxWidth: 460 }}
            >
              <Typography variant="h3">{axisWords(working.label, computation.input)}</Typography>
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
                  {working.result} {axisWords(working.unit, computation.input)}
                </dd>
                <dt>source</dt>
                <dd>{working.source}</dd>
              </Box>
            </Box>
          )}
        </Popover>
      )}
    </>
  );
}

const sheet = sheetOf('results', {
  mb: 0.5,
  '& h3': {
    m: 0,
    fontSize: '0.86rem',
    fontWeight: 600,
    lineHeight: 1.5,
    color: 'text.secondary',
    borderBottom: 1,
    borderColor: 'divider',
  },
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
});

interface ShownResult {
  readonly text: string;
  readonly unit: string;
  readonly isUnknown: boolean;
}

/**
 * Drawn anew only when what it shows has changed; plain elements, styled once, because an edit may touch
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

/** Labels and units of what is given to the sheet, not worked out by it. */
const given: Readonly<Partial<Record<Symbol, { readonly label: string; readonly unit: string }>>> = {
  backlash: { label: 'Backlash at the load', unit: '{u}' },
  supplyMotorSpeed: { label: 'Highest motor speed at this voltage', unit: 'rpm' },
  criticalSpeed: { label: 'Critical speed of the screw', unit: 'rpm' },
};

const all = new Map(Object.values(axisSheets).flatMap(({ bySymbol }) => [...bySymbol]));

const wordsFor = (symbol: Symbol) => all.get(symbol) ?? given[symbol] ?? { label: symbol, unit: '' };

const isWorthShowing = (outcome: AxisOutcome) =>
  outcome.state === 'known' && outcome.value !== 0 && outcome.value !== Infinity;

type AxisOutcome = ReturnType<typeof useAxis>['computation']['results'][Symbol];
