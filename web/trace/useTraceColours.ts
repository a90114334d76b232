import { useTheme } from '@mui/material';
import { useMemo } from 'react';
import type { TraceColours } from './traceLook.ts';

export function useTraceColours(): TraceColours {
  const { palette } = useTheme();
  const [main, prediction, other] = [palette.primary.main, palette.warning.main, palette.text.secondary];
  return useMemo(() => ({ main, prediction, other }), [main, prediction, other]);
}
