import { styled } from '@mui/material';
import type { CSSProperties, ReactNode } from 'react';
import { ErrorBoundary } from './ErrorBoundary.tsx';
import { sxOnce } from './sxOnce.ts';

const Sheet = styled('section')(
  sxOnce({
    p: 1.25,
    minWidth: 0,
    bgcolor: 'background.paper',
    border: 1,
    borderColor: 'divider',
    borderRadius: 1,
    // What changes in it is laid out and painted without the rest of the page.
    contain: 'content',
    '& > header': { display: 'flex', alignItems: 'center', justifyContent: 'space-between', gap: 1, mb: 0.75 },
    '& > header > h2': { m: 0, fontSize: '1rem', fontWeight: 600, lineHeight: 1.6 },
  }),
);

/** A titled sheet of paper. */
export function Panel(props: {
  readonly title: string;
  readonly aside?: ReactNode;
  readonly children: ReactNode;
  readonly style?: CSSProperties;
}) {
  // What is scrolled must be reachable by the keyboard.
  return (
    <Sheet aria-label={props.title} style={props.style} tabIndex={props.style?.overflow === 'auto' ? 0 : undefined}>
      <header>
        <h2>{props.title}</h2>
        {props.aside}
      </header>
      <ErrorBoundary what={`“${props.title}”`}>{props.children}</ErrorBoundary>
    </Sheet>
  );
}

/** As high as the window below the bar at the top; what is longer is scrolled. */
export const windowHigh: CSSProperties = { maxHeight: 'calc(100vh - 66px)', overflow: 'auto' };
