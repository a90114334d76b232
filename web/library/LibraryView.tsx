import { addressOf, newEntry, type LibraryKind } from '@kavrid/contract';
import {
  Alert,
  Box,
  Button,
  Link,
  Tab,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  Tabs,
  TextField,
  Typography,
} from '@mui/material';
import { useState } from 'react';
import { Link as RouterLink, useNavigate, useParams, useSearchParams } from 'react-router';
import { useCreateEntryMutation, useImportLibraryMutation, useLibraryQuery } from '../store/api.ts';
import { useAppSelector } from '../store/store.ts';
import { FileButton } from '../ui/FileButton.tsx';
import { Failed, Loading, reasonOf } from '../ui/Loading.tsx';
import { NameDialog } from '../ui/NameDialog.tsx';
import { Pager } from '../ui/Pager.tsx';
import { Panel } from '../ui/Panel.tsx';
import { EntryPanel } from './EntryPanel.tsx';

const size = 25;
const shelves: readonly { readonly shelf: LibraryKind; readonly title: string }[] = [
  { shelf: 'motor', title: 'Motors' },
  { shelf: 'drive', title: 'Drives' },
  { shelf: 'controller', title: 'Controllers' },
  { shelf: 'cable', title: 'Cables' },
  { shelf: 'spindle motor', title: 'Spindle motors' },
  { shelf: 'spindle drive', title: 'Spindle drives' },
];

/** The shelves of motors, drives, controllers and cables that axes are filled from. */
export function LibraryView() {
  const { entryId } = useParams();
  const [address, setAddress] = useSearchParams();
  const shelf = shelves.find((each) => each.shelf === address.get('shelf'))?.shelf ?? 'motor';
  const [search, setSearch] = useState('');
  const [page, setPage] = useState(0);
  const [adding, setAdding] = useState(false);
  const { data, error, refetch } = useLibraryQuery({ shelf, search, page, size });
  const [create, { error: createError, isLoading }] = useCreateEntryMutation();
  const navigate = useNavigate();
  const add = async (name: string) => {
    const made = await create(newEntry(shelf, name));
    if (!made.data) return;
    setAdding(false);
    await navigate(`/library/${made.data.id}?shelf=${shelf}`);
  };
  return (
    <Box
      component="main"
      sx={{ display: 'grid', gap: 1, p: 1, gridTemplateColumns: '460px minmax(0, 1fr)', alignItems: 'start' }}
    >
      <Panel
        title="Library"
        aside={
          <Button variant="contained" onClick={() => setAdding(true)}>
            New entry
          </Button>
        }
      >
        <Tabs
          value={shelf}
          onChange={(_, chosen: LibraryKind) => {
            setPage(0);
            setAddress({ shelf: chosen });
          }}
          aria-label="Shelf"
          sx={{ '& .MuiTab-root': { px: 0.75, fontSize: 13 } }}
        >
          {shelves.map(({ shelf: value, title }) => (
            <Tab key={value} value={value} label={title} />
          ))}
        </Tabs>
        <TextField
          placeholder="Search by name or part number"
          value={search}
          onChange={(event) => {
            setPage(0);
            setSearch(event.target.value);
          }}
          slotProps={{ htmlInput: { 'aria-label': 'Search by name or part number', maxLength: 100 } }}
          sx={{ my: 1 }}
        />
        {error && <Failed what="The library" because={reasonOf(error)} retry={() => void refetch()} />}
        {!data && !error && <Loading what="the library" />}
        {data?.items.length === 0 && (
          <Typography color="text.secondary">
            {search
              ? 'No entry with this name or part number.'
              : 'This shelf is empty. Add an entry, or import a library file below.'}
          </Typography>
        )}
        {data && data.items.length > 0 && (
          <Table size="small" aria-label="Entries">
            <TableHead>
              <TableRow>
                <TableCell>Name</TableCell>
                <TableCell align="right">Used by</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {data.items.map(({ id, item, usedBy }) => (
                <TableRow key={id} hover selected={id === entryId}>
                  <TableCell sx={{ overflowWrap: 'anywhere' }}>
                    <Link component={RouterLink} to={`/library/${id}?shelf=${shelf}`}>
                      {item.entry.name}
                    </Link>
                  </TableCell>
                  <TableCell align="right">
                    {usedBy === 0 ? '' : `${usedBy} ${usedBy === 1 ? 'axis' : 'axes'}`}
                  </TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
        )}
        {data && <Pager total={data.total} page={page} size={size} turn={setPage} />}
        <FilesLine shelf={shelf} />
      </Panel>
      {entryId ? (
        <EntryPanel key={entryId} id={entryId} />
      ) : (
        <Panel title="Entry">
          <Typography color="text.secondary">
            Select an entry to view and edit it. An axis copies an entry’s data at its station in the chain; when you
            change the entry later, you see which axes would change and how, and choose which ones to update.
          </Typography>
        </Panel>
      )}
      {adding && (
        <NameDialog
          title={`New ${shelf}`}
          submit="Create"
          help="What distinguishes it: type, size, encoder."
          error={createError ? reasonOf(createError) : undefined}
          busy={isLoading}
          onName={(name) => void add(name)}
          close={() => setAdding(false)}
        />
      )}
    </Box>
  );
}

/** The library out as a file, and entries in from one. */
function FilesLine({ shelf }: { readonly shelf: LibraryKind }) {
  const author = useAppSelector((state) => state.preferences.author);
  const [bringIn, { data, error }] = useImportLibraryMutation();
  const link = (words: string, query: Readonly<Record<string, string>>) => (
    <Link href={`/api${addressOf('exportLibrary', {}, query)}`} download>
      {words}
    </Link>
  );
  return (
    <Box sx={{ mt: 1, fontSize: 13 }}>
      <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'center', flexWrap: 'wrap' }}>
        {link('All as JSON', { as: 'json' })}
        {link('This shelf as CSV', { as: 'csv', shelf })}
        <FileButton
          accept=".json,.csv"
          testId="library-file"
          onFile={(file) => void file.text().then((text) => bringIn({ text, author }))}
        >
          Import …
        </FileButton>
      </Box>
      {error && <Alert severity="error">{reasonOf(error)}</Alert>}
      {data && (
        <Alert severity="info" sx={{ py: 0 }}>
          {data.added} added{data.alike > 0 ? `, ${data.alike} already existed` : ''}.
        </Alert>
      )}
    </Box>
  );
}
