import type { DriveData } from '@kavrid/contract';
import { fromRaw, type ParameterComparison, type ParameterStanding } from '@kavrid/core/drive';
import { formatNumber } from '@kavrid/core/quantity';
import { Box, Table, TableBody, TableCell, TableHead, TableRow, Tooltip } from '@mui/material';
import { Fragment } from 'react';
import { byKindOnScreen, useMember } from '../member/memberContext.ts';
import { numberFace } from '../ui/theme.ts';
import { plannedField } from './plannedField.tsx';
import { useShownRaw } from './useShownRaw.ts';
import { columnTitle, differIn, valueIn, type ValueColumn } from './valueColumn.ts';
import { ValueName } from './ValueName.tsx';

const standingLook: Readonly<Record<ParameterStanding, { readonly words: string; readonly colour: string }>> = {
  proven: { words: 'proven', colour: 'success.main' },
  differs: { words: 'differs', colour: 'error.main' },
  'not stored': { words: 'not stored', colour: 'warning.main' },
  'needs restart': { words: 'needs restart', colour: 'warning.main' },
  'cannot be written': { words: 'cannot be written', colour: 'error.main' },
  'not planned': { words: 'not planned', colour: 'text.secondary' },
  'not read': { words: 'not read', colour: 'text.secondary' },
};

const numberColumns = ['Running', 'Stored', 'Factory'];

/** The values that are looked at, by groups; with a pair, the two columns of it beside each other. */
export function ValueTable(props: {
  readonly comparisons: DriveData['comparisons'];
  readonly pair?: readonly [ValueColumn, ValueColumn] | undefined;
}) {
  const { comparisons, pair } = props;
  const titles = pair
    ? ['Value', ...pair.map(columnTitle), 'Compared']
    : ['Value', 'Planned', ...numberColumns, 'Standing'];
  const groups = [...new Set(comparisons.map((each) => each.parameter.group))];
  return (
    <Table
      size="small"
      stickyHeader
      aria-label="Drive values"
      sx={{ '& td': { fontSize: 12.5 }, '& th': { py: 0.25 } }}
    >
      <TableHead>
        <TableRow>
          {titles.map((title, index) => (
            <TableCell
              key={index}
              align={numberColumns.includes(title) || (pair && (index === 1 || index === 2)) ? 'right' : 'left'}
            >
              {title}
            </TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {groups.map((group) => (
          <Fragment key={group}>
            <TableRow>
              <TableCell colSpan={titles.length} sx={{ fontWeight: 600, color: 'text.secondary', pt: 0.75 }}>
                {group}
              </TableCell>
            </TableRow>
            {comparisons
              .filter((each) => each.parameter.group === group)
              .map((each) =>
                pair ? (
                  <PairRow key={each.parameter.key} comparison={each} pair={pair} />
                ) : (
                  <ValueRow key={each.parameter.key} comparison={each} />
                ),
              )}
          </Fragment>
        ))}
      </TableBody>
    </Table>
  );
}

const oneLine = { whiteSpace: 'nowrap', overflow: 'hidden', textOverflow: 'ellipsis', maxWidth: 118 } as const;

function ValueRow({ comparison }: { readonly comparison: ParameterComparison }) {
  const { parameter, planned, written, running, stored, factory, standing, because } = comparison;
  const show = useShownRaw();
  // What is planned for a spindle is typed at its other views.
  const hasFields = byKindOnScreen(useMember(), { axis: () => true, spindle: () => false });
  const look = standingLook[standing];
  const cell = (raw: number | undefined, strong: boolean, written?: number) => (
    <TableCell
      align="right"
      title={raw === undefined ? '' : `${formatNumber(fromRaw(parameter, raw), 12)} ${parameter.unit}`}
      sx={{
        fontFamily: numberFace,
        fontWeight: strong ? 600 : 400,
        color: strong ? look.colour : undefined,
        ...oneLine,
      }}
    >
      {show(parameter, raw)}
      {written !== undefined && (
        <Box component="div" sx={{ fontSize: 11.5, color: 'text.secondary' }}>
          after restart {show(parameter, written)}
        </Box>
      )}
    </TableCell>
  );
  return (
    <TableRow hover data-parameter={parameter.key}>
      <ValueName parameter={parameter} />
      <TableCell
        sx={{
          width: 150,
          ...oneLine,
          maxWidth: 150,
          fontFamily: numberFace,
          '& input': { fontSize: 12.5, py: 0 },
          '& .MuiFormHelperText-root': { whiteSpace: 'normal' },
          '& .MuiSelect-select': { fontSize: 12.5, py: 0 },
        }}
      >
        {(hasFields && plannedField(parameter.role, parameter.label)) ||
          (planned === undefined ? '' : show(parameter, planned))}
      </TableCell>
      {cell(running, planned !== undefined && running !== planned, written !== running ? written : undefined)}
      {cell(stored, planned !== undefined && stored !== planned)}
      {cell(factory, false)}
      <TableCell sx={{ color: look.colour, fontWeight: standing === 'not planned' ? 400 : 600, whiteSpace: 'nowrap' }}>
        <Tooltip title={because ?? ''}>
          <span>{look.words}</span>
        </Tooltip>
      </TableCell>
    </TableRow>
  );
}

/** A value in two columns. */
function PairRow({
  comparison,
  pair,
}: {
  readonly comparison: ParameterComparison;
  readonly pair: readonly [ValueColumn, ValueColumn];
}) {
  const show = useShownRaw();
  const differs = differIn(pair, comparison);
  return (
    <TableRow hover data-parameter={comparison.parameter.key}>
      <ValueName parameter={comparison.parameter} />
      {pair.map((column, index) => (
        <TableCell
          key={index}
          align="right"
          sx={{ fontFamily: numberFace, fontWeight: differs ? 600 : 400, ...oneLine, maxWidth: 220 }}
        >
          {show(comparison.parameter, valueIn(column, comparison))}
        </TableCell>
      ))}
      <TableCell sx={{ color: differs ? 'error.main' : 'text.secondary', fontWeight: differs ? 600 : 400 }}>
        {differs === undefined ? 'not known in both' : differs ? 'different' : 'the same'}
      </TableCell>
    </TableRow>
  );
}
