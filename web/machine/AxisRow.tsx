import type { AxisRecord } from '@kavrid/contract';
import { hasGear } from '@kavrid/core/chain';
import { toNumber, formatNumber } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';
import { Link, TableCell, TableRow } from '@mui/material';
import { Link as RouterLink } from 'react-router';
import { memberPath } from '../member/memberPath.ts';
import { axisComputation } from '../member/axisComputation.ts';
import { useAppSelector } from '../store/store.ts';
import { FindingMarks } from '../ui/FindingList.tsx';
import { shownUnits } from '../ui/units.ts';
import { MemberButtons } from './MemberButtons.tsx';

export function AxisRow({ axis }: { readonly axis: AxisRecord }) {
  const lengths = useAppSelector((state) => state.preferences.lengths);
  const { results, findings, input } = axisComputation(axis.document, lengths);
  const units = shownUnits(input, lengths);
  const isGeared = hasGear(input.command);
  const steps = valueOf(results.stepsPerUnit);
  const speed = valueOf(results.highestSpeed);
  return (
    <TableRow hover>
      <TableCell sx={{ overflowWrap: 'anywhere' }}>
        <Link component={RouterLink} to={memberPath(axis.machineId, axis.id, 'axis')}>
          {axis.document.name}
        </Link>
      </TableCell>
      <TableCell>{isGeared ? `${axis.document.gear.numerator} / ${axis.document.gear.denominator}` : '—'}</TableCell>
      <TableCell>
        {!isGeared
          ? '—'
          : steps
            ? `${formatNumber(units.shown(toNumber(steps), 'pulses/{u}'))} ${units.name('pulses/{u}')}`
            : 'unknown'}
      </TableCell>
      <TableCell>{speed === undefined ? 'unknown' : units.quantity(speed, '{u}/s')}</TableCell>
      <TableCell>{valueOf(results.bindingLimits)?.join(', ') ?? ''}</TableCell>
      <TableCell>
        <FindingMarks findings={findings} />
      </TableCell>
      <MemberButtons member={axis} />
    </TableRow>
  );
}
