import { Typography } from '@mui/material';
import { memo, type ReactNode } from 'react';

/** Fields below each other. */
export const Column = ({ children }: { readonly children: ReactNode }) => (
  <div style={{ display: 'grid', gap: 10, paddingTop: 4, alignContent: 'start' }}>{children}</div>
);

/** Two fields side by side. */
export const Pair = ({ children }: { readonly children: ReactNode }) => (
  <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 8, alignItems: 'start' }}>{children}</div>
);

/** A heading between fields. */
export const Between = memo(function Between({ children }: { readonly children: string }) {
  return (
    <Typography variant="h3" color="text.secondary" sx={{ borderBottom: 1, borderColor: 'divider' }}>
      {children}
    </Typography>
  );
});

export const Hint = ({ children }: { readonly children: ReactNode }) => (
  <Typography variant="body2" color="text.secondary">
    {children}
  </Typography>
);
