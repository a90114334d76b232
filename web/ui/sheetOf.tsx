import { GlobalStyles, type SxProps, type Theme } from '@mui/material';
import type { ReactElement } from 'react';

/**
 * Styles for plain elements of a class, worked out once for a theme and not at every drawing. Kept outside of components and
 * drawn beside the elements: `{sheet}<ul className="…">`.
 */
export const sheetOf = (className: string, styles: SxProps<Theme>): ReactElement => (
  <GlobalStyles styles={(theme) => theme.unstable_sx({ [`.${className}`]: styles } as SxProps<Theme>) as object} />
);
