import { axisSheets, axisWords, sheetFor, type AxisInput, type AxisValues } from '@kavrid/core/chain';
import { exactToText, formatExact, formatNumber, isRational, toNumber } from '@kavrid/core/quantity';
import { isExact, workingOf } from '@kavrid/core/sheet';
import { useAxis } from '../member/useAxis.ts';
import { ResultList, type ShownResult } from '../ui/ResultList.tsx';
import { useShownUnits, type ShownUnits } from '../ui/units.ts';
import { commandGroups } from './commandFaces.tsx';
import type { ResultGroup } from './resultGroup.ts';
import type { CommandDocument } from '@kavrid/contract';

type Symbol = keyof AxisValues & string;

/** The results of an axis, by what it is. */
function groupsOf(document: CommandDocument, { command, train, pair, supply }: AxisInput): readonly ResultGroup[] {
  return [
    ...commandGroups(document, command),
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

/** Every result of the axis with its unit. */
export function Results() {
  const { document, computation } = useAxis();
  return <ResultsOf groups={groupsOf(document.command, computation.input)} />;
}

/** Some results of the axis, in groups. */
export function ResultsOf({ groups }: { readonly groups: readonly ResultGroup[] }) {
  const { computation } = useAxis();
  const { input, results } = computation;
  const units = useShownUnits(input);
  return (
    <ResultList
      groups={groups.map(({ title, symbols, optional = [] }) => ({
        title,
        rows: [...symbols, ...optional.filter((symbol) => isWorthShowing(results[symbol]))].map((symbol) => {
          const { label, unit } = wordsFor(symbol);
          return {
            symbol,
            label: axisWords(label, input),
            isLeading: leading.has(symbol),
            ...shownResult(results[symbol], unit, units),
          };
        }),
      }))}
      workingOf={(symbol) => {
        const working = workingOf(sheetFor(input), results, symbol as Symbol);
        return working && { ...working, label: axisWords(working.label, input), unit: axisWords(working.unit, input) };
      }}
    />
  );
}

function shownResult(outcome: AxisOutcome, template: string, units: ShownUnits): ShownResult {
  if (outcome.state === 'unknown') return { text: 'unknown', unit: '', because: outcome.because };
  const { value } = outcome;
  if (typeof value === 'number')
    return { text: formatNumber(units.shown(value, template)), unit: units.name(template) };
  if (isExact(value)) {
    const number = toNumber(value);
    const shown = units.shown(number, template);
    const fraction = isRational(value) && shown === number ? exactToText(value) : '';
    const text = formatExact(value, 8);
    const both = text.startsWith('≈') && fraction !== '' && fraction.length <= 12;
    return {
      text: shown !== number ? formatNumber(shown, 8) : both ? `${fraction} ${text}` : text,
      unit: units.name(template),
    };
  }
  return { text: Array.isArray(value) ? value.join(', ') : '', unit: '' };
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
