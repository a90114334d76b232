import { Box, Button, MenuItem, Table, TableBody, TableCell, TableHead, TableRow, TextField } from '@mui/material';
import { useState } from 'react';
import { Pager } from '../ui/Pager.tsx';

export interface RowsColumn {
  readonly field: string;
  readonly title: string;
  readonly width: number;
  /** Without choices it is text, or a number; yes and no stand for true and false, what is empty there for null. */
  readonly number?: boolean;
  readonly choices?: readonly { readonly value: string; readonly label: string }[];
}

type Row = Readonly<Record<string, unknown>>;
const size = 20;

const shown = (value: unknown): string => (typeof value === 'boolean' ? (value ? 'yes' : 'no') : String(value ?? ''));

/** A list of like things, edited in place. */
export function RowsTable(props: {
  readonly title: string;
  readonly columns: readonly RowsColumn[];
  readonly rows: readonly Row[];
  readonly empty: Row;
  readonly change: (rows: readonly Row[]) => void;
}) {
  const { title, columns, rows, empty, change } = props;
  const [page, setPage] = useState(0);
  const last = Math.max(0, Math.ceil(rows.length / size) - 1);
  const first = Math.min(page, last) * size;
  /** A number stays text while it is being typed: “0.” is on the way to 0.5. */
  const set = (index: number, field: string, text: string, isLeft = false) => {
    const column = columns.find((each) => each.field === field);
    const read = Number(text);
    const isNumber = column?.number && text.trim() !== '' && Number.isFinite(read) && (isLeft || String(read) === text);
    const isNull = text === '' && (column?.choices !== undefined || column?.number);
    const value = typeof rows[index]?.[field] === 'boolean' ? text === 'yes' : isNull ? null : isNumber ? read : text;
    change(rows.map((row, k) => (k === index ? { ...row, [field]: value } : row)));
  };
  return (
    <Box sx={{ overflowX: 'auto' }}>
      <Table size="small" aria-label={title} sx={{ '& td': { px: 0.5, borderBottom: 0 }, '& th': { px: 0.5 } }}>
        <TableHead>
          <TableRow>
            {columns.map((column) => (
              <TableCell key={column.field} sx={{ minWidth: column.width }}>
                {column.title}
              </TableCell>
            ))}
            <TableCell />
          </TableRow>
        </TableHead>
        <TableBody>
          {rows.slice(first, first + size).map((row, offset) => {
            const index = first + offset;
            return (
              <TableRow key={index}>
                {columns.map(({ field, title: columnTitle, choices, number }) => (
                  <TableCell key={field}>
                    <TextField
                      variant="standard"
                      {...(choices ? { select: true } : {})}
                      value={shown(row[field])}
                      onChange={(event) => set(index, field, event.target.value)}
                      onBlur={({ target }) =>
                        typeof row[field] === 'string' && number && set(index, field, target.value, true)
                      }
                      slotProps={{
                        htmlInput: { 'aria-label': `${columnTitle}, row ${index + 1}`, style: { fontSize: 13 } },
                        select: {
                          SelectDisplayProps: {
                            'aria-label': `${columnTitle}, row ${index + 1}`,
                            style: { fontSize: 13 },
                          } as object,
                        },
                      }}
                    >
                      {choices?.map((choice) => (
                        <MenuItem key={choice.value} value={choice.value} dense>
                          {choice.label}
                        </MenuItem>
                      ))}
                    </TextField>
                  </TableCell>
                ))}
                <TableCell>
                  <Button
                    color="error"
                    sx={{ minWidth: 0 }}
                    aria-label={`Remove row ${index + 1}`}
                    onClick={() => change(rows.filter((_, k) => k !== index))}
                  >
                    ✕
                  </Button>
                </TableCell>
              </TableRow>
            );
          })}
        </TableBody>
      </Table>
      <Button
        onClick={() => {
          change([...rows, empty]);
          setPage(Math.floor(rows.length / size));
        }}
      >
        Add a row
      </Button>
      <Pager total={rows.length} page={Math.min(page, last)} size={size} turn={setPage} />
    </Box>
  );
}
