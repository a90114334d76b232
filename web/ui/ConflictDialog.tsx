import { fieldValueWords, fieldWords, pointerOf } from '@kavrid/contract';
import {
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  Radio,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  Typography,
} from '@mui/material';
import { useState } from 'react';
import { resolved, type DraftState } from '../store/drafts.ts';
import { useAppDispatch } from '../store/store.ts';

/** Both values of every field that two people edited at once; one of them is chosen for each. Nothing is dropped unseen. */
export function ConflictDialog(props: {
  readonly memberId: string;
  readonly conflict: Extract<DraftState, { kind: 'conflict' }>;
}) {
  const { memberId, conflict } = props;
  const { conflicts, author } = conflict;
  const [mine, setMine] = useState<ReadonlySet<string>>(new Set(conflicts.map(({ path }) => pointerOf(path))));
  const dispatch = useAppDispatch();
  const choose = (pointer: string, isMine: boolean) =>
    setMine((now) => new Set([...now].filter((each) => each !== pointer).concat(isMine ? [pointer] : [])));
  return (
    // Inside the view, so that the bar with its stop stays reachable by mouse, keyboard and screen reader.
    <Dialog
      open
      container={() => document.querySelector('main')}
      disableEnforceFocus
      aria-labelledby="conflict-title"
      fullWidth
      maxWidth="sm"
    >
      <DialogTitle id="conflict-title">{author || 'Someone else'} edited the same fields</DialogTitle>
      <DialogContent>
        <Typography variant="body2" gutterBottom>
          All other edits have been combined. Which value should be kept? Undo brings the other one back.
        </Typography>
        <Table size="small" aria-label="Fields edited by both">
          <TableHead>
            <TableRow>
              {['Field', 'Was', 'Theirs', 'Mine'].map((title) => (
                <TableCell key={title}>{title}</TableCell>
              ))}
            </TableRow>
          </TableHead>
          <TableBody>
            {conflicts.map(({ path, base, theirs, mine: my }) => {
              const pointer = pointerOf(path);
              const option = (isMine: boolean, value: unknown) => (
                <FormControlLabel
                  control={
                    <Radio
                      size="small"
                      checked={mine.has(pointer) === isMine}
                      onChange={() => choose(pointer, isMine)}
                    />
                  }
                  label={fieldValueWords(value)}
                  sx={{ overflowWrap: 'anywhere' }}
                />
              );
              return (
                <TableRow key={pointer}>
                  <TableCell>{fieldWords(path)}</TableCell>
                  <TableCell sx={{ overflowWrap: 'anywhere' }}>{fieldValueWords(base)}</TableCell>
                  <TableCell>{option(false, theirs)}</TableCell>
                  <TableCell>{option(true, my)}</TableCell>
                </TableRow>
              );
            })}
          </TableBody>
        </Table>
      </DialogContent>
      <DialogActions>
        <Button variant="contained" onClick={() => dispatch(resolved({ memberId, mine: [...mine] }))}>
          Continue with these
        </Button>
      </DialogActions>
    </Dialog>
  );
}
