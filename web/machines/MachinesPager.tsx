import type { MachinesWanted } from '@kavrid/contract';
import { TablePagination } from '@mui/material';

/** Turns the pages of the list of machines. */
export const MachinesPager = (props: {
  readonly total: number;
  readonly wanted: MachinesWanted;
  readonly want: (change: Partial<MachinesWanted>) => void;
}) => (
  <TablePagination
    component="div"
    count={props.total}
    page={props.wanted.page}
    rowsPerPage={props.wanted.size}
    rowsPerPageOptions={[25, 50, 100]}
    onPageChange={(_, page) => props.want({ page })}
    onRowsPerPageChange={(event) => props.want({ size: Number(event.target.value) })}
  />
);
