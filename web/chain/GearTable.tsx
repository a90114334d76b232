import { styled } from '@mui/material';
import { keyedGear, type GearChoice } from '@kavrid/core/chain';
import { exact, exactToText, formatNumber, rationalToText } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';
import { useState } from 'react';
import { useAxis } from '../member/useAxis.ts';
import { useEdit } from '../member/memberContext.ts';
import { numberFace } from '../ui/theme.ts';
import { sxOnce } from '../ui/sxOnce.ts';
import { useShownUnits } from '../ui/units.ts';

export type GearColumn = 'resolution' | 'steps' | 'ratio' | 'error' | 'drift' | 'speed' | 'limit';

const shortLimit = (name: string) =>
  name
    .replace(' pulse rate', '')
    .replace(' input rate', '')
    .replace('motor speed', 'motor')
    .replace(/ speed of stage (\d+)/, ' speed, stage $1')
    .replace('speed limit of stage', 'stage');

/** What one would key in for a ratio, short. */
export function useKeyedText(): (choice: GearChoice) => string {
  const { computation } = useAxis();
  const { input, results } = computation;
  const counts = valueOf(results.countsPerRevolution);
  return ({ fraction }) => {
    if (!counts) return rationalToText(fraction);
    const keying = keyedGear(input, counts, exact(fraction.numerator), exact(fraction.denominator));
    switch (keying.kind) {
      case 'ratio':
        return `${fraction.numerator}/${fraction.denominator}`;
      case 'pulsesPerRevolution':
        return exactToText(keying.pulses);
      case 'switches':
        return exactToText(keying.pulses);
      case 'multiplier':
        return `× ${exactToText(keying.multiplier)}`;
      case 'impossible':
        return rationalToText(fraction);
    }
  };
}

/**
 * Ratios to choose between; plain elements, because an edit redraws all of them. A heading sorts by its column, a second time
 * the other way round.
 */
export function GearTable(props: {
  readonly label: string;
  readonly choices: readonly GearChoice[];
  readonly columns: readonly GearColumn[];
  /** Adopting takes the wanted resolution along. */
  readonly takesResolution: boolean;
}) {
  const { label, choices, columns, takesResolution } = props;
  const { document, computation } = useAxis();
  const edit = useEdit();
  const units = useShownUnits(computation.input);
  const keyed = useKeyedText();
  const [order, setOrder] = useState<{ readonly by: GearColumn; readonly down: boolean }>();
  const wanted = valueOf(computation.results.wantedSpeed);
  const heads: Readonly<Record<GearColumn, string>> = {
    resolution: `${units.unit}/pulse`,
    steps: `pulses/${units.unit}`,
    ratio:
      { 'numerator and denominator': 'N / D', multiplier: 'multiplier' }[document.drive.ratioForm as string] ??
      'pulses/rev',
    error: 'error, ppm',
    drift: `over travel, ${units.unit}`,
    speed: `top ${units.unit}/s`,
    limit: 'limited by',
  };
  const shown = order ? sorted(choices, order.by, order.down) : choices;
  const cell = (choice: GearChoice, column: GearColumn): string => {
    switch (column) {
      case 'resolution':
        return formatNumber(units.shown(1 / choice.stepsPerUnit, '{u}'), 5);
      case 'steps':
        return formatNumber(units.shown(choice.stepsPerUnit, 'pulses/{u}'), 7);
      case 'ratio':
        return keyed(choice);
      case 'error':
        return choice.ppm === 0 ? 'exact' : formatNumber(choice.ppm, 4);
      case 'drift':
        return choice.drift === undefined ? '—' : formatNumber(units.shown(choice.drift, '{u}'), 3);
      case 'speed':
        return `${formatNumber(units.shown(choice.highestSpeed, '{u}'), 4)}${isEnough(choice) ? '' : ' ✕'}`;
      case 'limit':
        return choice.binding.map(shortLimit).join(', ');
    }
  };
  const isEnough = (choice: GearChoice) => wanted === undefined || choice.highestSpeed >= wanted * (1 - 1e-9);
  const classOf = (choice: GearChoice, column: GearColumn) => {
    if (column === 'limit') return column;
    return column === 'speed' && wanted !== undefined ? (isEnough(choice) ? 'enough' : 'slow') : undefined;
  };
  const adopt = ({ fraction, resolution }: GearChoice) => {
    edit(['gear'], {
      ...document.gear,
      numerator: String(fraction.numerator),
      denominator: String(fraction.denominator),
    });
    if (takesResolution) edit(['wanted', 'resolution'], `${exactToText(resolution)} ${computation.input.axisUnit}`);
  };
  return (
    <Ratios aria-label={label}>
      <thead>
        <tr>
          {columns.map((column) => (
            <th key={column} aria-sort={order?.by !== column ? 'none' : order.down ? 'descending' : 'ascending'}>
              <button
                type="button"
                onClick={() => setOrder({ by: column, down: order?.by === column && !order.down })}
                title="Sort by this"
              >
                {heads[column]}
                {order?.by === column ? (order.down ? ' ▾' : ' ▴') : ''}
              </button>
            </th>
          ))}
          <th aria-label="Adopt" />
        </tr>
      </thead>
      <tbody>
        {shown.map((choice) => {
          const { numerator, denominator } = choice.fraction;
          const isNow =
            document.gear.numerator === String(numerator) && document.gear.denominator === String(denominator);
          return (
            <tr
              key={`${numerator}/${denominator} ${exactToText(choice.resolution)}`}
              className={isNow ? 'now' : undefined}
            >
              {columns.map((column) => (
                <td key={column} className={classOf(choice, column)}>
                  {cell(choice, column)}
                </td>
              ))}
              <td>
                {isNow ? (
                  'in use'
                ) : (
                  <button type="button" aria-label={`Adopt ${keyed(choice)}`} onClick={() => adopt(choice)}>
                    Adopt
                  </button>
                )}
              </td>
            </tr>
          );
        })}
      </tbody>
    </Ratios>
  );
}

function sorted(choices: readonly GearChoice[], by: GearColumn, down: boolean): readonly GearChoice[] {
  const key = (choice: GearChoice): number | string => {
    switch (by) {
      case 'resolution':
        return 1 / choice.stepsPerUnit;
      case 'steps':
        return choice.stepsPerUnit;
      case 'ratio':
        return choice.countsPerPulse;
      case 'error':
        return Math.abs(choice.ppm);
      case 'drift':
        return Math.abs(choice.drift ?? 0);
      case 'speed':
        return choice.highestSpeed;
      case 'limit':
        return choice.binding.join();
    }
  };
  const rising = choices.toSorted((a, b) => {
    const [x, y] = [key(a), key(b)];
    return x < y ? -1 : x > y ? 1 : 0;
  });
  return down ? rising.reverse() : rising;
}

const Ratios = styled('table')(
  sxOnce({
    width: '100%',
    borderCollapse: 'collapse',
    fontSize: 12,
    '& th, & td': { px: 0.5, py: '3px', textAlign: 'right', borderBottom: 1, borderColor: 'divider' },
    '& th:first-of-type, & td:first-of-type, & .limit, & th:nth-last-of-type(2)': { textAlign: 'left' },
    '& td': { fontFamily: numberFace, whiteSpace: 'nowrap' },
    '& td.limit': { whiteSpace: 'normal' },
    '& th': { fontWeight: 600, whiteSpace: 'nowrap' },
    '& button': {
      font: 'inherit',
      fontFamily: 'inherit',
      color: 'inherit',
      background: 'none',
      border: 0,
      p: 0,
      cursor: 'pointer',
      '&:focus-visible': { outline: '2px solid', outlineColor: 'primary.main' },
    },
    '& td button': { color: 'primary.main', fontWeight: 600 },
    '& tr.now': { bgcolor: 'action.selected' },
    '& .enough': { color: 'primary.main' },
    '& .slow': { color: 'error.main' },
  }),
);
