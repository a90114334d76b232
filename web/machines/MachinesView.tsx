import type { MachinesWanted, MachineSummary } from '@kavrid/contract';
import {
  Box,
  Button,
  Chip,
  FormControlLabel,
  InputAdornment,
  Link,
  Switch,
  Table,
  TableBody,
  TableCell,
  TableHead,
  OutlinedInput,
  TableRow,
  TableSortLabel,
  Typography,
} from '@mui/material';
import { mdiMagnify } from '@mdi/js';
import { lazy, Suspense, useDeferredValue, useState } from 'react';
import { Link as RouterLink } from 'react-router';
import { memberPath } from '../member/memberPath.ts';
import { useMachinesQuery, useTagsQuery } from '../store/api.ts';
import { Icon } from '../ui/Icon.tsx';
import { Failed, Loading, reasonOf } from '../ui/Loading.tsx';
import { Panel } from '../ui/Panel.tsx';

const NewMachine = lazy(() => import('./NewMachine.tsx').then((module) => ({ default: module.NewMachine })));
const MachinesPager = lazy(() => import('./MachinesPager.tsx').then((module) => ({ default: module.MachinesPager })));
const ImportDialog = lazy(() =>
  import('../files/ImportDialog.tsx').then((module) => ({ default: module.ImportDialog })),
);

const start: MachinesWanted = {
  search: '',
  tag: '',
  archived: false,
  sort: 'updatedAt',
  order: 'descending',
  page: 0,
  size: 25,
};

/** The machines: found by name, axis, notes or tag, a page at a time. */
export function MachinesView() {
  const [wanted, setWanted] = useState(start);
  const { data, error, isLoading, refetch } = useMachinesQuery(useDeferredValue(wanted));
  const { data: tags = [] } = useTagsQuery();
  const [open, setOpen] = useState<'new' | 'import'>();
  if (isLoading) return <Loading what="the machines" />;
  if (error || !data) return <Failed what="The machines" because={reasonOf(error)} retry={() => void refetch()} />;
  const want = (change: Partial<MachinesWanted>) => setWanted((now) => ({ ...now, page: 0, ...change }));
  const isFiltered = wanted.search !== '' || wanted.tag !== '';
  return (
    <Box component="main" sx={{ maxWidth: 1100, mx: 'auto', p: 2 }}>
      <Panel
        title={wanted.archived ? 'Archived machines' : 'Machines'}
        aside={
          <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
            <Button onClick={() => setOpen('import')}>Import …</Button>
            <Button variant="contained" onClick={() => setOpen('new')}>
              New machine
            </Button>
          </Box>
        }
      >
        <Box sx={{ display: 'flex', gap: 1, alignItems: 'center', flexWrap: 'wrap', mb: 1 }}>
          <OutlinedInput
            size="small"
            placeholder="Search names, axes and notes"
            value={wanted.search}
            onChange={(event) => want({ search: event.target.value })}
            sx={{ width: 290 }}
            notched={false}
            inputProps={{ 'aria-label': 'Search', maxLength: 100 }}
            startAdornment={
              <InputAdornment position="start">
                <Icon path={mdiMagnify} />
              </InputAdornment>
            }
          />
          {tags.map((tag) => (
            <Chip
              key={tag}
              size="small"
              label={tag}
              color={wanted.tag === tag ? 'primary' : 'default'}
              variant={wanted.tag === tag ? 'filled' : 'outlined'}
              aria-pressed={wanted.tag === tag}
              onClick={() => want({ tag: wanted.tag === tag ? '' : tag })}
            />
          ))}
          <Box sx={{ flex: 1 }} />
          <FormControlLabel
            control={<Switch size="small" checked={wanted.archived} onChange={(_, archived) => want({ archived })} />}
            label="archived"
          />
        </Box>
        {data.items.length === 0 ? (
          <Nothing isFiltered={isFiltered} isArchive={wanted.archived} clear={() => want({ search: '', tag: '' })} />
        ) : (
          <MachineTable items={data.items} wanted={wanted} want={want} />
        )}
        {data.total > wanted.size && (
          <Suspense>
            <MachinesPager total={data.total} wanted={wanted} want={want} />
          </Suspense>
        )}
      </Panel>
      {open && (
        <Suspense>
          {open === 'new' ? (
            <NewMachine close={() => setOpen(undefined)} />
          ) : (
            <ImportDialog close={() => setOpen(undefined)} />
          )}
        </Suspense>
      )}
    </Box>
  );
}

function Nothing(props: { readonly isFiltered: boolean; readonly isArchive: boolean; readonly clear: () => void }) {
  if (props.isFiltered)
    return (
      <Typography color="text.secondary">
        No machine matches. <Button onClick={props.clear}>Show all</Button>
      </Typography>
    );
  return (
    <Typography color="text.secondary">
      {props.isArchive
        ? 'Nothing is archived. A machine that is no longer needed is archived from its own page; it is kept complete and can be restored.'
        : 'Nothing here yet. Start with “New machine”, then add an axis and enter its nameplate data. To bring in a machine exported elsewhere, use “Import …”.'}
    </Typography>
  );
}

function MachineTable(props: {
  readonly items: readonly MachineSummary[];
  readonly wanted: MachinesWanted;
  readonly want: (change: Partial<MachinesWanted>) => void;
}) {
  const { items, wanted, want } = props;
  const heading = (sort: MachinesWanted['sort'], title: string) => (
    <TableSortLabel
      active={wanted.sort === sort}
      direction={wanted.order === 'ascending' ? 'asc' : 'desc'}
      onClick={() =>
        want({ sort, order: wanted.sort === sort && wanted.order === 'ascending' ? 'descending' : 'ascending' })
      }
    >
      {title}
    </TableSortLabel>
  );
  return (
    <Table size="small" aria-label="Machines">
      <TableHead>
        <TableRow>
          <TableCell>{heading('name', 'Machine')}</TableCell>
          <TableCell>Axes and spindles</TableCell>
          <TableCell>Tags</TableCell>
          <TableCell align="right">{heading('updatedAt', 'Last saved')}</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {items.map((machine) => (
          <TableRow key={machine.id} hover>
            <TableCell sx={{ maxWidth: 360, overflowWrap: 'anywhere' }}>
              <Link component={RouterLink} to={`/machines/${machine.id}`}>
                {machine.name}
              </Link>
            </TableCell>
            <TableCell>
              {machine.axes.map((axis) => (
                <Link
                  key={axis.id}
                  component={RouterLink}
                  to={memberPath(machine.id, axis.id, axis.kind)}
                  sx={{ mr: 1.5 }}
                >
                  {axis.name}
                </Link>
              ))}
            </TableCell>
            <TableCell sx={{ color: 'text.secondary' }}>{machine.tags.join(', ')}</TableCell>
            <TableCell align="right" sx={{ whiteSpace: 'nowrap' }}>
              {new Date(machine.updatedAt).toLocaleString()}
            </TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}
