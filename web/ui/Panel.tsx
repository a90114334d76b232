import { Box, Paper, Typography, type SxProps } from '@mui/material';
import type { ReactNode } from 'react';

/** A titled sheet of paper. */
export function Panel(props: {
  readonly title: string;
  readonly aside?: ReactNode;
  readonly children: ReactNode;
  readonly sx?: SxProps;
}) {
  return (
    <Paper component="section" aria-label={props.title} sx={{ p: 1.25, minWidth: 0, ...props.sx }}>
      <Box sx={{ display: 'flex', alignItems: 'center', justifyContent: 'space-between', gap: 1, mb: 0.75 }}>
        <Typography variant="h2">{props.title}</Typography>
        {props.aside}
      </Box>
      {props.children}
    </Paper>
  );
}
