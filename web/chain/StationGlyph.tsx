import type { Station } from '@kavrid/core/chain';
import type { ReactNode } from 'react';
import { stageFaces } from './stageFaces.tsx';

/** A drawing of a station on its shaft, with an arrow for the way that plus goes there. */
export function StationGlyph(props: {
  readonly station: Omit<Station, 'perLoadUnit'>;
  readonly ink: string;
  readonly accent: string;
  readonly paper: string;
}) {
  const { station, ink, accent, paper } = props;
  const turns = ['turns', 'counts', 'rpm', 'N·m'].includes(station.leaves);
  const stroke = { stroke: ink, strokeWidth: 1.6, fill: paper };
  return (
    <svg width="112" height="70" viewBox="0 0 112 70" aria-hidden>
      {drawing(station, stroke, accent)}
      {turns ? (
        <TurnArrow plus={station.sign === 1} colour={accent} />
      ) : (
        <TravelArrow plus={station.sign === 1} colour={accent} />
      )}
    </svg>
  );
}

export const TurnArrow = ({ plus, colour }: { readonly plus: boolean; readonly colour: string }) => (
  <g transform={plus ? undefined : 'translate(112 0) scale(-1 1)'} stroke={colour} fill="none" strokeWidth="2">
    <path d="M84 20a12 12 0 0 1 8 20" />
    <path d="M96 34l-4 7-6-5" fill={colour} />
  </g>
);

const TravelArrow = ({ plus, colour }: { readonly plus: boolean; readonly colour: string }) => (
  <g transform={plus ? undefined : 'translate(112 0) scale(-1 1)'} stroke={colour} fill="none" strokeWidth="2">
    <path d="M84 10h20" />
    <path d="M99 5l6 5-6 5" fill={colour} />
  </g>
);

interface Stroke {
  readonly stroke: string;
  readonly strokeWidth: number;
  readonly fill: string;
}

/** What the controller sends: pulses, a level, a duty cycle, or a choice of inputs. */
function sent(leaves: string): string {
  switch (leaves) {
    case 'pulses':
      return 'M34 44h6v-18h7v18h7v-18h7v18h7v-18h5';
    case 'V':
    case 'mA':
      return 'M34 46l10-4 12-16 10 6 8-10';
    case '%':
      return 'M34 44h3v-18h12v18h4v-18h3v18h12v-18h6';
    default:
      return 'M34 46h10l9-8M57 46h17M34 26h10l10-1M57 26h17';
  }
}

function drawing(station: Pick<Station, 'kind' | 'stage' | 'leaves'>, stroke: Stroke, accent: string): ReactNode {
  const line = { ...stroke, fill: 'none' };
  switch (station.kind) {
    case 'controller':
      return (
        <>
          <rect x="28" y="14" width="52" height="42" {...stroke} />
          <path d={sent(station.leaves)} {...line} stroke={accent} />
        </>
      );
    case 'drive':
      return (
        <>
          <path d="M32 10h44v50h-44z" {...stroke} />
          <path d="M38 20h32M38 27h32M44 50a10 10 0 0 1 20 0z" {...line} />
        </>
      );
    case 'motor':
      return (
        <>
          <rect x="24" y="18" width="46" height="34" rx="3" {...stroke} />
          <path d="M70 24h6v22h-6M30 24h34M30 30h34M30 40h34M30 46h34" {...line} />
        </>
      );
    case 'load':
      return (
        <>
          <rect x="30" y="20" width="52" height="26" {...stroke} />
          <path d="M22 54h68M26 54l-5 6M42 54l-5 6M58 54l-5 6M74 54l-5 6M90 54l-5 6" {...line} />
        </>
      );
    case 'stage':
      return stageFaces[station.stage ?? 'direct'].drawing({ stroke, line });
  }
}
