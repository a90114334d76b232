import { TablePagination } from '@mui/material';

/** Pages of one size; nothing where one page holds all. */
export function Pager(props: {
  readonly total: number;
  readonly page: number;
  readonly size: number;
  readonly turn: (page: number) => void;
}) {
  const { total, page, size, turn } = props;
  if (total <= size) return null;
  return (
    <TablePagination
      component="div"
      count={total}
      page={page}
      rowsPerPage={size}
      rowsPerPageOptions={[size]}
      onPageChange={(_, next) => turn(next)}
    />
  );
}
