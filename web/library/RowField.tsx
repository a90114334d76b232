import { MenuItem, TextField } from '@mui/material';
import { shownCell, withCell, type Row, type RowsColumn } from './rowValues.ts';

/** One value of a row: bare in a line of a table, or with its label above it. */
export function RowField(props: {
  readonly column: RowsColumn;
  readonly row: Row;
  /** Its place in the list, from 0. */
  readonly index: number;
  readonly bare?: boolean;
  readonly change: (row: Row) => void;
}) {
  const { column, row, index, bare = false, change } = props;
  const { field, title, choices, number } = column;
  const label = bare ? `${title}, row ${index + 1}` : title;
  return (
    <TextField
      {...(bare ? { variant: 'standard' as const } : { label: title })}
      {...(choices ? { select: true } : { multiline: !number && column.width >= 150 })}
      value={shownCell(row[field])}
      onChange={(event) => change(withCell(row, column, event.target.value))}
      onBlur={({ target }) =>
        typeof row[field] === 'string' && number && change(withCell(row, column, target.value, true))
      }
      slotProps={{
        htmlInput: { 'aria-label': label, style: { fontSize: 13 } },
        select: { SelectDisplayProps: { 'aria-label': label, style: { fontSize: 13 } } as object },
      }}
    >
      {choices?.map((choice) => (
        <MenuItem key={choice.value} value={choice.value} dense>
          {choice.label}
        </MenuItem>
      ))}
    </TextField>
  );
}
