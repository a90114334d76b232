import { addressOf, type ProfileRecord } from '@kavrid/contract';
import {
  Alert,
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  TextField,
  Typography,
} from '@mui/material';
import { lazy, Suspense, useState } from 'react';
import {
  useDeleteProfileMutation,
  useProfilesQuery,
  useRenameProfileMutation,
  useReplaceProfileMutation,
} from '../store/api.ts';
import { FileButton } from '../ui/FileButton.tsx';
import { reasonOf } from '../ui/Loading.tsx';

const MapEditorDialog = lazy(() =>
  import('./MapEditorDialog.tsx').then((module) => ({ default: module.MapEditorDialog })),
);

/** All register maps: their names, who uses them, and their replacement by a newer file. */
export function RegisterMapsDialog({ close }: { readonly close: () => void }) {
  const { data: profiles = [] } = useProfilesQuery();
  const [edited, setEdited] = useState<ProfileRecord>();
  if (edited)
    return (
      <Suspense fallback={null}>
        <MapEditorDialog profile={edited} close={() => setEdited(undefined)} />
      </Suspense>
    );
  return (
    <Dialog open onClose={close} fullWidth maxWidth="md">
      <DialogTitle>Register maps</DialogTitle>
      <DialogContent>
        {profiles.length === 0 && <Typography color="text.secondary">None has been imported yet.</Typography>}
        {profiles.map((profile) => (
          <RegisterMapRow key={profile.id} profile={profile} edit={setEdited} />
        ))}
      </DialogContent>
      <DialogActions>
        <Button onClick={close}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}

function RegisterMapRow(props: { readonly profile: ProfileRecord; readonly edit: (profile: ProfileRecord) => void }) {
  const { profile, edit } = props;
  const [name, setName] = useState(profile.name);
  const [rename, renaming] = useRenameProfileMutation();
  const [replace, replacing] = useReplaceProfileMutation();
  const [remove, removing] = useDeleteProfileMutation();
  const { id, kind, users } = profile;
  const error = renaming.error ?? replacing.error ?? removing.error;
  return (
    <Box sx={{ borderBottom: 1, borderColor: 'divider', py: 1 }}>
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
        <TextField
          label={kind === 'axis' ? 'For axes' : 'For spindles'}
          value={name}
          onChange={(event) => setName(event.target.value)}
          sx={{ flex: 1 }}
        />
        <Button
          disabled={name.trim() === '' || name.trim() === profile.name}
          onClick={() => void rename({ id, name: name.trim() })}
        >
          Rename
        </Button>
        <Button onClick={() => edit(profile)}>Edit …</Button>
        <Button component="a" href={`/api${addressOf('readProfile', { id })}`} download>
          Export
        </Button>
        <FileButton
          accept=".csv,text/csv"
          testId={`replace-${id}`}
          onFile={(file) => {
            void file.text().then(async (csv) => {
              const done = await replace({ id, csv });
              if (done.data) setName(done.data.name);
            });
          }}
        >
          Replace …
        </FileButton>
        <Button color="error" disabled={users.length > 0} onClick={() => void remove(id)}>
          Delete
        </Button>
      </Box>
      <Typography variant="body2" color="text.secondary" sx={{ mt: 0.5 }}>
        {users.length === 0 ? 'Not used.' : `Used by ${users.join('; ')}. A replacement is used from then on.`}
      </Typography>
      {error && (
        <Alert severity="error" sx={{ mt: 0.5, maxHeight: 160, overflow: 'auto' }}>
          {reasonOf(error)}
        </Alert>
      )}
    </Box>
  );
}
