import { Alert, Button } from '@mui/material';
import { Component, useEffect, useRef, type ReactNode } from 'react';
import { useLocation } from 'react-router';
import { useAppSelector } from '../store/store.ts';

/** Keeps a failure of what it holds to itself: the rest of the page, undo and stop go on. An edit or another page tries again. */
export class ErrorBoundary extends Component<
  { readonly what: string; readonly children: ReactNode },
  { readonly error: unknown }
> {
  override state: { readonly error: unknown } = { error: undefined };

  static getDerivedStateFromError(error: unknown) {
    return { error: error ?? new Error('unknown') };
  }

  override render(): ReactNode {
    const { error } = this.state;
    if (error === undefined) return this.props.children;
    return <Broken what={this.props.what} error={error} again={() => this.setState({ error: undefined })} />;
  }
}

function Broken(props: { readonly what: string; readonly error: unknown; readonly again: () => void }) {
  const { what, error, again } = props;
  const drafts = useAppSelector((state) => state.drafts);
  const { pathname } = useLocation();
  const seen = useRef({ drafts, pathname });
  useEffect(() => {
    if (seen.current.drafts === drafts && seen.current.pathname === pathname) return;
    seen.current = { drafts, pathname };
    again();
  }, [drafts, pathname, again]);
  return (
    <Alert
      severity="error"
      action={
        <Button color="inherit" onClick={again}>
          Try again
        </Button>
      }
    >
      {what} cannot be shown: {error instanceof Error ? error.message : 'something failed'}. Undo the last edit, or
      correct it in another view. Nothing you entered is lost.
    </Alert>
  );
}
