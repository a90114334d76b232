import { styled } from '@mui/material';
import { sxOnce } from './sxOnce.ts';
import { numberFace } from './theme.ts';

const Table = styled('table')(
  sxOnce({
    borderCollapse: 'collapse',
    width: '100%',
    fontSize: 12.5,
    '& th': { textAlign: 'right', fontWeight: 600, py: 0.25, pl: 1 },
    '& td': {
      textAlign: 'right',
      fontFamily: numberFace,
      fontSize: 12,
      py: 0.25,
      pl: 1,
      borderTop: 1,
      borderColor: 'divider',
    },
    '& th:first-of-type, & td:first-of-type': { textAlign: 'left', fontFamily: 'inherit', pl: 0 },
    '& button': {
      font: 'inherit',
      color: 'primary.main',
      bgcolor: 'transparent',
      border: 0,
      p: 0,
      cursor: 'pointer',
      textAlign: 'left',
    },
    '& .chosen td': { fontWeight: 600 },
  }),
);

/** Measured figures, a row each; a row that can be chosen has a button. */
export function MeasuredTable(props: {
  readonly label: string;
  readonly heads: readonly string[];
  readonly rows: readonly {
    readonly key: string;
    readonly cells: readonly string[];
    readonly isChosen?: boolean;
    readonly onChoose?: () => void;
  }[];
}) {
  const { label, heads, rows } = props;
  return (
    <Table aria-label={label}>
      <thead>
        <tr>
          {heads.map((head) => (
            <th key={head} scope="col">
              {head}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map(({ key, cells: [first, ...rest], isChosen, onChoose }) => (
          <tr key={key} className={isChosen ? 'chosen' : undefined}>
            <td>
              {onChoose ? (
                <button type="button" aria-pressed={isChosen} onClick={onChoose}>
                  {first}
                </button>
              ) : (
                first
              )}
            </td>
            {rest.map((cell, k) => (
              <td key={heads[k + 1]}>{cell}</td>
            ))}
          </tr>
        ))}
      </tbody>
    </Table>
  );
}
