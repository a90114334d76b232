import { Box, Button, Table, TableBody, TableCell, TableHead, TableRow } from '@mui/material';
import { useState } from 'react';
import { Pager } from '../ui/Pager.tsx';
import { RowField } from './RowField.tsx';
import { shownCell, type Row, type RowsColumn } from './rowValues.ts';

const size = 20;

/** A list of like things, edited in place; where a row has too many fields for a line, beside the list. */
export function RowsTable(props: {
  readonly title: string;
  readonly columns: readonly RowsColumn[];
  readonly rows: readonly Row[];
  readonly empty: Row;
  readonly change: (rows: readonly Row[]) => void;
}) {
  const { title, columns, rows, empty, change } = props;
  const [page, setPage] = useState(0);
  const [chosen, setChosen] = useState(0);
  const last = Math.max(0, Math.ceil(rows.length / size) - 1);
  const first = Math.min(page, last) * size;
  const listed = columns.filter(({ isListed }) => isListed);
  const isBeside = listed.length > 0;
  const open = Math.min(chosen, rows.length - 1);
  const openRow = isBeside ? rows[open] : undefined;
  const setRow = (index: number) => (row: Row) => change(rows.map((each, k) => (k === index ? row : each)));
  const remove = (index: number) => change(rows.filter((_, k) => k !== index));
  return (
    <Box
      sx={{
        display: 'grid',
        gap: 1.5,
        alignItems: 'start',
        gridTemplateColumns: isBeside ? 'minmax(0, 1fr) minmax(0, 1fr)' : 'minmax(0, 1fr)',
      }}
    >
      <Box sx={{ overflowX: 'auto' }}>
        <Table size="small" aria-label={title} sx={{ '& td': { px: 0.5, borderBottom: 0 }, '& th': { px: 0.5 } }}>
          <TableHead>
            <TableRow>
              {(isBeside ? listed : columns).map((column) => (
                <TableCell key={column.field} sx={{ minWidth: isBeside ? 0 : column.width }}>
                  {column.title}
                </TableCell>
              ))}
              {!isBeside && <TableCell />}
            </TableRow>
          </TableHead>
          <TableBody>
            {rows.slice(first, first + size).map((row, offset) => {
              const index = first + offset;
              return isBeside ? (
                <ListedRow
                  key={index}
                  {...{ row, index, columns: listed, isOpen: index === open }}
                  choose={() => setChosen(index)}
                />
              ) : (
                <TableRow key={index}>
                  {columns.map((column) => (
                    <TableCell key={column.field}>
                      <RowField bare column={column} row={row} index={index} change={setRow(index)} />
                    </TableCell>
                  ))}
                  <TableCell>
                    <Button
                      color="error"
                      sx={{ minWidth: 0 }}
                      aria-label={`Remove row ${index + 1}`}
                      onClick={() => remove(index)}
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
            setChosen(rows.length);
          }}
        >
          Add a row
        </Button>
        <Pager total={rows.length} page={Math.min(page, last)} size={size} turn={setPage} />
      </Box>
      {openRow && (
        <Box
          role="group"
          aria-label={`Row ${open + 1}`}
          sx={{ display: 'grid', gap: 1.25, gridTemplateColumns: '1fr 1fr', pt: 1 }}
        >
          {columns.map((column) => (
            <Box key={column.field} sx={{ gridColumn: column.width >= 200 ? '1 / -1' : 'auto' }}>
              <RowField column={column} row={openRow} index={open} change={setRow(open)} />
            </Box>
          ))}
          <Button color="error" aria-label={`Remove row ${open + 1}`} onClick={() => remove(open)}>
            Remove this row
          </Button>
        </Box>
      )}
    </Box>
  );
}

/** A row shown by some of its values; choosing it opens its fields. */
function ListedRow(props: {
  readonly row: Row;
  readonly index: number;
  readonly columns: readonly RowsColumn[];
  readonly isOpen: boolean;
  readonly choose: () => void;
}) {
  const { row, index, columns, isOpen, choose } = props;
  return (
    <TableRow hover selected={isOpen} onClick={choose} sx={{ cursor: 'pointer' }}>
      {columns.map(({ field, choices }, k) => {
        const value = shownCell(row[field]);
        const text = choices?.find((each) => each.value === value)?.label ?? value;
        return (
          <TableCell key={field} sx={{ overflowWrap: 'anywhere' }}>
            {k === 0 ? (
              <Button
                sx={{ minWidth: 0, p: 0, textAlign: 'left' }}
                aria-current={isOpen}
                aria-label={`Open row ${index + 1}`}
                onClick={choose}
              >
                {text || '–'}
              </Button>
            ) : (
              text
            )}
          </TableCell>
        );
      })}
    </TableRow>
  );
}
