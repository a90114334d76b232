import { Box, Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material';
import { useId, type ReactNode } from 'react';

/** A question with its fields; Enter answers it, Escape leaves it. */
export function FormDialog(props: {
  readonly title: string;
  readonly submit: string;
  readonly disabled?: boolean;
  readonly width?: 'xs' | 'sm' | 'md' | 'lg';
  /** What leaving is called. */
  readonly leave?: string;
  readonly onSubmit: () => void;
  readonly close: () => void;
  readonly children: ReactNode;
}) {
  const { title, submit, disabled, width = 'xs', leave = 'Cancel', onSubmit, close, children } = props;
  const id = useId();
  return (
    <Dialog open onClose={close} aria-labelledby={id} fullWidth maxWidth={width}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          event.stopPropagation();
          onSubmit();
        }}
      >
        <DialogTitle id={id} sx={{ overflowWrap: 'anywhere' }}>
          {title}
        </DialogTitle>
        <DialogContent>
          <Box sx={{ display: 'grid', gap: 2, pt: 1 }}>{children}</Box>
        </DialogContent>
        <DialogActions>
          <Button onClick={close}>{leave}</Button>
          <Button type="submit" variant="contained" disabled={disabled ?? false}>
            {submit}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
