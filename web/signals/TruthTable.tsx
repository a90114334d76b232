import { formatNumber } from '@kavrid/core/quantity';
import { truthTable } from '@kavrid/core/signal';
import { Box } from '@mui/material';
import { useAxis } from '../member/useAxis.ts';
import { numberFace } from '../ui/theme.ts';
import { useShownUnits } from '../ui/units.ts';
import { useChoiceCommand } from './useChoiceCommand.ts';

/** What every pattern of the inputs does; choosing one opens its fields. */
export function TruthTable({
  open,
  choose,
}: {
  readonly open: string | undefined;
  readonly choose: (pattern: string) => void;
}) {
  const { choice } = useChoiceCommand();
  const { computation } = useAxis();
  const units = useShownUnits(computation.input);
  const u = units.name('{u}');
  const cell = (value: number | undefined, template: string) =>
    value === undefined ? '' : formatNumber(units.shown(value, template), 5);
  return (
    <Box
      component="table"
      aria-label="Truth table"
      sx={{
        borderCollapse: 'collapse',
        width: '100%',
        fontSize: 12.5,
        '& th': { textAlign: 'left', fontWeight: 600, pr: 0.75 },
        '& td': { borderTop: 1, borderColor: 'divider', pr: 0.75, py: 0.25 },
        '& .number': { textAlign: 'right' },
        '& td.number': { fontFamily: numberFace },
        '& tr.open td': { bgcolor: 'action.selected' },
        '& button': { all: 'unset', cursor: 'pointer', fontFamily: numberFace, textDecoration: 'underline' },
        '& button:focus-visible': { outline: '2px solid', outlineColor: 'primary.main' },
      }}
    >
      <thead>
        <tr>
          <th scope="col">{choice.inputs.join(' ')}</th>
          <th scope="col">does</th>
          <th scope="col" className="number">
            to, {u}
          </th>
          <th scope="col" className="number">
            {u}/s
          </th>
          <th scope="col" className="number">
            {u}/s²
          </th>
          <th scope="col" className="number">
            torque, %
          </th>
          <th scope="col" className="number">
            window, {u}
          </th>
        </tr>
      </thead>
      <tbody>
        {truthTable(choice).map((move) => (
          <tr key={move.pattern} className={move.pattern === open ? 'open' : undefined}>
            <td>
              <button type="button" onClick={() => choose(move.pattern)} aria-pressed={move.pattern === open}>
                {move.pattern}
              </button>
              {move.pattern === choice.patternAtEnable && ' at enable'}
            </td>
            <td>
              {move.kind}
              {move.name && ` (${move.name})`}
            </td>
            <td className="number">{cell(move.target, '{u}')}</td>
            <td className="number">{cell(move.speed, '{u}/s')}</td>
            <td className="number">{cell(move.acceleration, '{u}/s²')}</td>
            <td className="number">{cell(move.torqueLimit, '%')}</td>
            <td className="number">{cell(move.window, '{u}')}</td>
          </tr>
        ))}
      </tbody>
    </Box>
  );
}
