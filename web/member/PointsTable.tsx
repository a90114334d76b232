import type { DocumentPath, RuleName } from '@kavrid/contract';
import { Box, Button, TextField } from '@mui/material';
import { useUncheckedEdit, type MemberPath } from './memberContext.ts';
import { DocumentChoice } from '../member/DocumentChoice.tsx';
import { NumberField } from './QuantityField.tsx';

/** A column of numbers, or of one of a few words. */
export interface PointColumn<T> {
  readonly field: keyof T & string;
  readonly title: string;
  readonly rule?: RuleName;
  readonly choices?: readonly { readonly value: string; readonly label: string }[];
  readonly isText?: boolean;
  /** Its share of the width, such as 40 %. */
  readonly width?: string;
}

type Row = Readonly<Record<string, string | number | null>>;

/** Measured points, to type one below the other. */
export function PointsTable<T extends Row>(props: {
  readonly label: string;
  readonly path: MemberPath<readonly Row[]>;
  readonly rows: readonly T[];
  readonly columns: readonly PointColumn<T>[];
  readonly blank: T;
  /** What a row is; a point where nothing is said. */
  readonly what?: string;
  /** So many rows there may be. */
  readonly most?: number;
}) {
  const { label, path, rows, columns, blank, what = 'point', most = Infinity } = props;
  const edit = useUncheckedEdit();
  const cell = (index: number, field: keyof T & string): DocumentPath => [...path, index, field];
  return (
    <Box>
      <Box
        component="table"
        aria-label={label}
        sx={{
          borderCollapse: 'collapse',
          width: '100%',
          fontSize: 13,
          '& th': { textAlign: 'left', fontWeight: 600 },
          '& td': { pr: 1, verticalAlign: 'top' },
          '& .MuiInputBase-root': { minHeight: 30 },
        }}
      >
        <thead>
          <tr>
            {columns.map(({ title, width }) => (
              <th key={title} scope="col" style={{ width }}>
                {title}
              </th>
            ))}
            <th />
          </tr>
        </thead>
        <tbody>
          {rows.map((row, index) => (
            <tr key={index}>
              {columns.map(({ field, title, rule, choices, isText }) => (
                <td key={field}>
                  {rule ? (
                    <NumberField
                      bare
                      label={`${title}, ${what} ${index + 1}`}
                      path={cell(index, field) as MemberPath<number | null>}
                      rule={rule}
                    />
                  ) : isText ? (
                    <TextField
                      variant="standard"
                      multiline
                      value={row[field] ?? ''}
                      onChange={(event) => edit(cell(index, field), event.target.value)}
                      slotProps={{ htmlInput: { 'aria-label': `${title}, ${what} ${index + 1}`, maxLength: 200 } }}
                    />
                  ) : (
                    <DocumentChoice
                      bare
                      label={`${title}, ${what} ${index + 1}`}
                      value={String(row[field])}
                      choices={choices ?? []}
                      path={cell(index, field) as MemberPath<string>}
                    />
                  )}
                </td>
              ))}
              <td>
                <Button
                  size="small"
                  color="error"
                  sx={{ minWidth: 0, px: 0.5 }}
                  aria-label={`Remove ${what} ${index + 1}`}
                  onClick={() =>
                    edit(
                      path,
                      rows.filter((_, k) => k !== index),
                    )
                  }
                >
                  Remove
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </Box>
      <Button disabled={rows.length >= most} onClick={() => edit(path, [...rows, blank])}>
        Add {/^[aeio]/.test(what) ? 'an' : 'a'} {what}
      </Button>
    </Box>
  );
}
