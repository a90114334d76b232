import { styled } from '@mui/material';
import { sxOnce } from '../ui/sxOnce.ts';
import { numberFace } from '../ui/theme.ts';

/** A table of inputs or outputs, in plain elements: its rows change many times a second. */
export const SignalTable = styled('table')(
  sxOnce({
    borderCollapse: 'collapse',
    width: '100%',
    fontSize: 13,
    '& th': { textAlign: 'left', fontWeight: 600, py: 0.5, pr: 1 },
    '& tbody th': { fontWeight: 400 },
    '& td': { whiteSpace: 'nowrap', py: 0.5, pr: 1, borderTop: 1, borderColor: 'divider' },
    '& tbody th, & tbody td': { borderTop: 1, borderColor: 'divider' },
    '& .time': { fontFamily: numberFace, fontSize: 12.5, color: 'text.secondary', textAlign: 'right' },
    '& .active': { fontWeight: 600, color: 'warning.main' },
    '& .lamp': {
      display: 'inline-block',
      width: 11,
      height: 11,
      borderRadius: '50%',
      border: 1.5,
      borderColor: 'text.primary',
      mr: 0.75,
      verticalAlign: '-1px',
    },
    '& .lamp.on': { bgcolor: 'text.primary' },
    '& select': { font: 'inherit', fontSize: 12.5, width: 130, bgcolor: 'background.paper', color: 'text.secondary' },
    '& select.forced': { fontWeight: 600, color: 'warning.main' },
  }),
);

/** Filled: on. */
export const Lamp = ({ on }: { readonly on: boolean | undefined }) => (
  <span aria-hidden className={on ? 'lamp on' : 'lamp'} />
);
