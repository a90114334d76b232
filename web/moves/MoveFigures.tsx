import { formatNumber } from '@kavrid/core/quantity';
import { Table, TableBody, TableCell, TableHead, TableRow } from '@mui/material';
import type { MoveJobResult } from '../jobs/moveJob.ts';
import { numberFace } from '../ui/theme.ts';
import type { ShownUnits } from '../ui/units.ts';

/** The figures of predicted and measured moves, side by side. */
export function MoveFigures({ result, units }: { readonly result: MoveJobResult; readonly units: ShownUnits }) {
  const { predictedFigures: predicted, measuredFigures: measured } = result;
  const rows = [
    ['Peak speed', 'peakSpeed', '{u}/s'],
    ['Peak following error', 'peakFollowingError', '{u}'],
    ['Settling after the last move', 'settlingTime', 's'],
    ['Peak torque', 'peakTorque', '%'],
    ['RMS torque', 'rmsTorque', '%'],
  ] as const;
  return (
    <Table size="small" aria-label="Predicted and measured" sx={{ '& td': { fontSize: 12.5 } }}>
      <TableHead>
        <TableRow>
          <TableCell />
          {rows.map(([label, , unit]) => (
            <TableCell key={label} align="right">
              {label}, {units.name(unit)}
            </TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {(
          [
            ['Predicted', predicted],
            ['Measured', measured],
          ] as const
        ).map(
          ([name, figures]) =>
            figures && (
              <TableRow key={name}>
                <TableCell>{name}</TableCell>
                {rows.map(([label, key, unit]) => (
                  <TableCell key={label} align="right" sx={{ fontFamily: numberFace }}>
                    {figures[key] === undefined ? '—' : formatNumber(units.shown(figures[key], unit), 4)}
                  </TableCell>
                ))}
              </TableRow>
            ),
        )}
      </TableBody>
    </Table>
  );
}
