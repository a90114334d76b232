import { Button } from '@mui/material';
import { useRef, type ReactNode } from 'react';

/** Asks for one file. The same file can be chosen again, after it has been mended. */
export function FileButton(props: {
  readonly accept: string;
  readonly testId: string;
  readonly variant?: 'text' | 'outlined';
  readonly disabled?: boolean;
  readonly onFile: (file: File) => void;
  readonly children: ReactNode;
}) {
  const { accept, testId, variant = 'text', disabled = false, onFile, children } = props;
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <input
        ref={input}
        type="file"
        accept={accept}
        hidden
        data-testid={testId}
        onChange={(event) => {
          const chosen = event.target.files?.[0];
          event.target.value = '';
          if (chosen) onFile(chosen);
        }}
      />
      <Button variant={variant} disabled={disabled} onClick={() => input.current?.click()}>
        {children}
      </Button>
    </>
  );
}
