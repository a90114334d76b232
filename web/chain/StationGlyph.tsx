import type { Station } from '@kavrid/core/chain';
import type { ReactNode } from 'react';

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
      return stageDrawing(station.stage ?? 'direct', stroke, line);
  }
}

function stageDrawing(stage: NonNullable<Station['stage']>, stroke: Stroke, line: Stroke): ReactNode {
  switch (stage) {
    case 'direct':
      return <path d="M36 26h14v18h-14zM56 26h14v18h-14zM50 31h6M50 39h6" {...stroke} />;
    case 'gearbox':
      return (
        <>
          <rect x="30" y="12" width="48" height="46" {...stroke} />
          <circle cx="45" cy="35" r="8" {...line} />
          <circle cx="63" cy="35" r="11" {...line} strokeDasharray="3 2" />
        </>
      );
    case 'beltDrive':
      return (
        <>
          <path d="M34 22h44a13 13 0 0 1 0 26h-44a13 13 0 0 1 0-26z" {...stroke} strokeDasharray="4 2" />
          <circle cx="35" cy="35" r="8" {...line} />
          <circle cx="77" cy="35" r="8" {...line} />
        </>
      );
    case 'screw':
      return (
        <>
          <rect x="18" y="30" width="76" height="10" {...stroke} />
          <path d="M22 40l6-10M32 40l6-10M72 40l6-10M82 40l6-10" {...line} />
          <rect x="44" y="22" width="22" height="26" {...stroke} />
        </>
      );
    case 'beltReduction':
      return (
        <>
          <path d="M40 27l30-11M40 43l30 13" {...line} strokeDasharray="4 2" />
          <circle cx="38" cy="35" r="8" {...stroke} />
          <circle cx="74" cy="36" r="19" {...stroke} />
        </>
      );
    case 'rack':
      return (
        <>
          <circle cx="54" cy="28" r="14" {...stroke} strokeDasharray="3 2" />
          <path d="M20 58v-10h5l3-5h5l3 5h6l3-5h5l3 5h6l3-5h5l3 5h6l3-5h5l3 5h5v10z" {...stroke} />
        </>
      );
    case 'roller':
      return (
        <>
          <path d="M18 49h74M18 54h74" {...line} />
          <circle cx="54" cy="32" r="16" {...stroke} />
          <circle cx="54" cy="32" r="3" {...line} />
        </>
      );
    case 'wireDrum':
      return (
        <>
          <rect x="34" y="18" width="40" height="32" {...stroke} />
          <path d="M30 12v44M78 12v44M40 18v32M46 18v32M52 18v32M58 50v12" {...line} />
        </>
      );
    case 'rotaryTable':
      return (
        <>
          <ellipse cx="54" cy="28" rx="30" ry="9" {...stroke} />
          <path d="M24 28v7a30 9 0 0 0 60 0v-7M46 44v14h16v-14" {...line} />
        </>
      );
    case 'dosingHead':
      return (
        <>
          <circle cx="54" cy="32" r="18" {...stroke} />
          <circle cx="54" cy="20" r="4" {...line} />
          <circle cx="44" cy="38" r="4" {...line} />
          <circle cx="64" cy="38" r="4" {...line} />
          <path d="M24 54h12a18 18 0 0 0 36 0h12" {...line} />
        </>
      );
    case 'slide':
      return (
        <>
          <path d="M16 50h78M16 56h78" {...line} />
          <rect x="36" y="26" width="36" height="22" {...stroke} />
          <path d="M40 32h28M40 38h28" {...line} strokeDasharray="3 2" />
        </>
      );
    case 'worm':
      return (
        <>
          <circle cx="54" cy="42" r="15" {...stroke} strokeDasharray="3 2" />
          <rect x="30" y="12" width="48" height="13" {...stroke} />
          <path d="M36 25l5-13M46 25l5-13M56 25l5-13M66 25l5-13" {...line} />
        </>
      );
  }
}
