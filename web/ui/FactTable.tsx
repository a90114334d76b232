import { Box } from '@mui/material';
import { numberFace } from './theme.ts';

/** What is so, a line each. */
export function FactTable(props: {
  readonly label: string;
  readonly rows: readonly {
    readonly what: string;
    readonly is: string;
    readonly strong?: boolean;
    readonly isWrong?: boolean;
  }[];
}) {
  return (
    <Box
      component="table"
      aria-label={props.label}
      sx={{
        borderCollapse: 'collapse',
        width: '100%',
        fontSize: 13,
        '& th': { textAlign: 'left', fontWeight: 400, py: 0.25 },
        '& td': { textAlign: 'right', fontFamily: numberFace, fontSize: 12.5 },
        '& .strong': { fontWeight: 600, color: 'primary.main' },
        '& .wrong': { color: 'error.main', fontWeight: 600 },
      }}
    >
      <tbody>
        {props.rows.map(({ what, is, strong, isWrong }) => (
          <tr key={what}>
            <th scope="row">{what}</th>
            <td className={isWrong ? 'wrong' : strong ? 'strong' : undefined}>{is}</td>
          </tr>
        ))}
      </tbody>
    </Box>
  );
}
