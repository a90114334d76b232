import type { Severity } from '@kavrid/core/findings';
import { styled, Typography } from '@mui/material';
import type { ReactNode } from 'react';
import { numberFace } from './theme.ts';
import { severityLook } from './FindingList.tsx';
import { sxOnce } from './sxOnce.ts';

/** A shaft that runs through its stations. */
export function Strip(props: {
  readonly stations: number;
  readonly error: string | undefined;
  readonly children: ReactNode;
}) {
  const { stations, error, children } = props;
  return (
    <Chain aria-label="Chain">
      <div className="strip" style={{ minWidth: stations * 132 }}>
        <div aria-hidden className="shaft" />
        {children}
      </div>
      {error && (
        <Typography role="alert" variant="body2" color="error" sx={{ px: 1, pb: 0.5 }}>
          {error}
        </Typography>
      )}
    </Chain>
  );
}

/** One station: plain elements, because a probe or an edit touches all. */
export function StripCell(props: {
  readonly id: string;
  readonly name: string;
  readonly isChosen: boolean;
  readonly isSource: boolean;
  readonly text: string;
  readonly unit: string;
  readonly error: string | undefined;
  readonly because: string | undefined;
  readonly type: (id: string, text: string) => void;
  /** Its head. */
  readonly children: ReactNode;
}) {
  const { id, name, isChosen, isSource, text, unit, error, because, type, children } = props;
  return (
    <div className={isChosen ? 'station chosen' : 'station'}>
      {children}
      <input
        className={error ? 'wrong' : isSource ? 'source' : undefined}
        value={text}
        placeholder="unknown"
        onChange={(event) => type(id, event.target.value)}
        aria-label={`${name}: ${unit}`}
        aria-invalid={error !== undefined}
        title={error ?? (because === undefined ? undefined : `Unknown: ${because}`)}
      />
      <div className="unit">{unit}</div>
    </div>
  );
}

/** Its name, findings and drawing; choosing it opens its fields. */
export function StripHead(props: {
  readonly id: string;
  readonly name: string;
  readonly severity: Severity | undefined;
  readonly isChosen: boolean;
  readonly choose: (id: string) => void;
  /** Its drawing. */
  readonly children: ReactNode;
}) {
  const { id, name, severity, isChosen, choose, children } = props;
  return (
    <button type="button" onClick={() => choose(id)} aria-pressed={isChosen}>
      <span className="name">
        {name}
        {severity && (
          <span className={`dot ${severity}`} role="img" aria-label={`${severityLook[severity].word} at ${name}`} />
        )}
      </span>
      {children}
    </button>
  );
}

const Chain = styled('section')(
  sxOnce({
    overflowX: 'auto',
    bgcolor: 'background.paper',
    border: 1,
    borderColor: 'divider',
    borderRadius: 1,
    '& .strip': { display: 'flex', position: 'relative' },
    '& .shaft': { position: 'absolute', left: 0, right: 0, top: 67, height: 6, bgcolor: 'divider' },
    '& .station': {
      flex: 1,
      minWidth: 132,
      textAlign: 'center',
      position: 'relative',
      pb: 1,
      contain: 'content',
      borderTop: 3,
      borderColor: 'transparent',
    },
    '& .station.chosen': { bgcolor: 'action.selected', borderColor: 'primary.main' },
    '& .station button': {
      display: 'block',
      width: '100%',
      pt: 0.5,
      px: 0,
      pb: 0,
      border: 0,
      bgcolor: 'transparent',
      font: 'inherit',
      cursor: 'pointer',
      '&:focus-visible': { outline: '2px solid', outlineColor: 'primary.main', outlineOffset: -2 },
    },
    '& .name': {
      display: 'flex',
      justifyContent: 'center',
      alignItems: 'center',
      gap: 0.5,
      height: 22,
      fontSize: '0.86rem',
      fontWeight: 600,
      color: 'text.primary',
    },
    '& .dot': { width: 10, height: 10, borderRadius: '50%' },
    '& .dot.stop': { bgcolor: severityLook.stop.colour },
    '& .dot.warn': { bgcolor: severityLook.warn.colour },
    '& .dot.note': { bgcolor: severityLook.note.colour },
    '& input': {
      width: 118,
      p: '3px 2px',
      fontFamily: numberFace,
      fontSize: 13,
      textAlign: 'center',
      color: 'text.primary',
      bgcolor: 'background.default',
      border: 1,
      borderColor: 'divider',
      '&:focus-visible': { outline: '2px solid', outlineColor: 'primary.main' },
    },
    '& input.source': { borderColor: 'primary.main', fontWeight: 600 },
    '& input.wrong': { borderColor: 'error.main' },
    '& .chosen .unit.unit': { color: 'text.primary' },
    '& .unit': { fontSize: '0.8rem', lineHeight: 1.43, color: 'text.secondary' },
  }),
);
