import type { SpindleCommand, SpindleStationKind } from '@kavrid/core/spindle';
import { useTheme } from '@mui/material';
import { memo, type ReactNode } from 'react';
import { TurnArrow } from '../chain/StationGlyph.tsx';

/** A drawing of a spindle’s station on its shaft. */
export const SpindleGlyph = memo(function SpindleGlyph(props: {
  readonly kind: SpindleStationKind;
  readonly command: SpindleCommand['kind'];
  readonly reverses: boolean;
}) {
  const { kind, command, reverses } = props;
  const { palette } = useTheme();
  const stroke = { stroke: palette.text.primary, strokeWidth: 1.6, fill: palette.background.paper };
  const line = { ...stroke, fill: 'none' };
  const turns = kind === 'motor' || kind === 'belt' || kind === 'tool';
  return (
    <svg width="112" height="70" viewBox="0 0 112 70" aria-hidden>
      {drawing(kind, command, stroke, line, palette.primary.main)}
      {turns && <TurnArrow plus={kind === 'motor' || !reverses} colour={palette.primary.main} />}
    </svg>
  );
});

type Pen = { readonly stroke: string; readonly strokeWidth: number; readonly fill: string };

function drawing(
  kind: SpindleStationKind,
  command: SpindleCommand['kind'],
  stroke: Pen,
  line: Pen,
  accent: string,
): ReactNode {
  switch (kind) {
    case 'word':
      return (
        <>
          <path d="M32 14h40l8 8v34h-48z" {...stroke} />
          <path d="M40 26h24M40 34h32M40 42h16" {...line} stroke={accent} />
        </>
      );
    case 'signal':
      return (
        <>
          <path d="M24 35h64" {...line} />
          <rect x="34" y="16" width="44" height="38" {...stroke} />
          <path d={signalPath(command)} {...line} stroke={accent} />
        </>
      );
    case 'drive':
      return (
        <>
          <path d="M34 10h44v50h-44z" {...stroke} />
          <path d="M40 26q5-14 10 0t10 0 10 0" {...line} stroke={accent} />
          <path d="M40 44h32M40 51h32" {...line} />
        </>
      );
    case 'motor':
      return (
        <>
          <rect x="26" y="18" width="44" height="34" rx="8" {...stroke} />
          <path d="M70 26h8v18h-8M36 18v34M46 18v34M56 18v34" {...line} />
        </>
      );
    case 'belt':
      return (
        <>
          <path d="M42 22l30-8M42 48l30 8" {...line} />
          <circle cx="40" cy="35" r="13" {...stroke} />
          <circle cx="72" cy="35" r="21" {...stroke} />
          <circle cx="40" cy="35" r="2.5" {...line} />
          <circle cx="72" cy="35" r="2.5" {...line} />
        </>
      );
    case 'tool':
      return (
        <>
          <rect x="22" y="30" width="26" height="10" {...stroke} />
          <path d="M48 14h8v42h-8zM56 18h10v34h-10" {...stroke} />
          <path d="M66 22l6 4M66 32l6 3M66 42l6-2" {...line} stroke={accent} />
        </>
      );
  }
}

function signalPath(command: SpindleCommand['kind']): string {
  switch (command) {
    case 'signal':
      return 'M40 46l10-6 10-10 12-8';
    case 'fixedSpeeds':
      return 'M40 46h10v-8h10v-9h12';
    case 'fieldBus':
      return 'M39 40h4v-10h4v10h8v-10h4v10h4v-10h8';
  }
}
