import { Table, TableBody, TableCell, TableHead, TableRow } from '@mui/material';
import { numberFace } from './theme.ts';

/** Values before and after, a line each. */
export function Differences(props: {
  readonly title: string;
  readonly heads?: readonly [string, string];
  readonly rows: readonly { readonly key: string; readonly label: string; readonly was: string; readonly is: string }[];
}) {
  const { title, heads = ['before', 'after'], rows } = props;
  return (
    <Table
      size="small"
      aria-label={title}
      sx={{ mb: 1, tableLayout: 'fixed', '& td': { fontSize: 12.5, overflowWrap: 'anywhere', verticalAlign: 'top' } }}
    >
      <TableHead>
        <TableRow>
          <TableCell sx={{ width: '44%' }}>{title}</TableCell>
          <TableCell align="right">{heads[0]}</TableCell>
          <TableCell align="right">{heads[1]}</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {rows.map(({ key, label, was, is }) => (
          <TableRow key={key}>
            <TableCell>{label}</TableCell>
            <TableCell align="right" sx={{ fontFamily: numberFace, color: 'text.secondary' }}>
              {was}
            </TableCell>
            <TableCell align="right" sx={{ fontFamily: numberFace, fontWeight: 600 }}>
              {is}
            </TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}
