import type { DriveData } from '@kavrid/contract';
import { fromRaw, type DriveParameter, type ParameterComparison, type ParameterStanding } from '@kavrid/core/drive';
import { toNumber, formatNumber } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';
import { Box, Table, TableBody, TableCell, TableHead, TableRow, Tooltip } from '@mui/material';
import { Fragment } from 'react';
import { byKindOnScreen, useMember, wordingOf } from '../member/memberContext.ts';
import { numberFace } from '../ui/theme.ts';
import { useShownUnits } from '../ui/units.ts';
import { plannedField } from './plannedField.tsx';

const standingLook: Readonly<Record<ParameterStanding, { readonly words: string; readonly colour: string }>> = {
  proven: { words: 'proven', colour: 'success.main' },
  differs: { words: 'differs', colour: 'error.main' },
  'not stored': { words: 'not stored', colour: 'warning.main' },
  'needs restart': { words: 'needs restart', colour: 'warning.main' },
  'cannot be written': { words: 'cannot be written', colour: 'error.main' },
  'not planned': { words: 'not planned', colour: 'text.secondary' },
  'not read': { words: 'not read', colour: 'text.secondary' },
};

/** The values that are looked at, by groups. */
export function ValueTable({ comparisons }: { readonly comparisons: DriveData['comparisons'] }) {
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
          {['Value', 'Planned', 'Running', 'Stored', 'Factory', 'Standing'].map((title) => (
            <TableCell key={title} align={['Running', 'Stored', 'Factory'].includes(title) ? 'right' : 'left'}>
              {title}
            </TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {groups.map((group) => (
          <Fragment key={group}>
            <TableRow>
              <TableCell colSpan={6} sx={{ fontWeight: 600, color: 'text.secondary', pt: 0.75 }}>
                {group}
              </TableCell>
            </TableRow>
            {comparisons
              .filter((each) => each.parameter.group === group)
              .map((each) => (
                <ValueRow key={each.parameter.key} comparison={each} />
              ))}
          </Fragment>
        ))}
      </TableBody>
    </Table>
  );
}

const oneLine = { whiteSpace: 'nowrap', overflow: 'hidden', textOverflow: 'ellipsis', maxWidth: 118 } as const;

function ValueRow({ comparison }: { readonly comparison: ParameterComparison }) {
  const { parameter, planned, written, running, stored, factory, standing, because } = comparison;
  const show = useShownRaw(parameter);
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
      {show(raw)}
      {written !== undefined && (
        <Box component="div" sx={{ fontSize: 11.5, color: 'text.secondary' }}>
          after restart {show(written)}
        </Box>
      )}
    </TableCell>
  );
  return (
    <TableRow hover data-parameter={parameter.key}>
      <TableCell sx={{ whiteSpace: 'nowrap' }}>
        <Tooltip
          title={`${parameter.help} ${parameter.object ? `Object ${parameter.object}. ` : ''}Register ${parameter.address}.`}
        >
          <span>
            {parameter.label}
            {parameter.takesEffect === 'after restart' ? ' ↻' : ''}
          </span>
        </Tooltip>
      </TableCell>
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
        {(hasFields && plannedField(parameter.role, parameter.label)) || (planned === undefined ? '' : show(planned))}
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

/** A raw value for reading: its words, its value with the unit, or, where it counts encoder counts, the travel they are. */
function useShownRaw(parameter: DriveParameter): (raw: number | undefined) => string {
  const member = useMember();
  const units = useShownUnits(wordingOf(member));
  const resolution = resolutionOf(member);
  return (raw) => {
    if (raw === undefined) return '—';
    const value = fromRaw(parameter, raw);
    const words = parameter.choices[String(value)];
    if (words !== undefined) return words;
    if (!parameter.unit.startsWith('counts') || !resolution)
      return `${formatNumber(value, 10)} ${parameter.unit}`.trim();
    const template = parameter.unit.replace('counts', '{u}');
    return `${formatNumber(units.shown(value * toNumber(resolution), template), 5)} ${units.name(template)}`;
  };
}

/** Travel of one count, where there is an axis with counts. */
export const resolutionOf = (member: ReturnType<typeof useMember>) =>
  byKindOnScreen(member, {
    axis: ({ computation }) => valueOf(computation.results.feedbackResolution),
    spindle: () => undefined,
  });
