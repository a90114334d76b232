import { mdiAlertOctagonOutline, mdiAlertOutline, mdiInformationOutline } from '@mdi/js';
import type { Finding, Severity } from '@kavrid/core/findings';
import { styled, Typography } from '@mui/material';
import { memo } from 'react';
import { Link } from 'react-router';
import { addressOf, type Place } from './place.ts';
import { Icon } from './Icon.tsx';
import { sxOnce } from './sxOnce.ts';

export const severityLook: Readonly<
  Record<Severity, { readonly icon: string; readonly colour: string; readonly word: string }>
> = {
  stop: { icon: mdiAlertOctagonOutline, colour: 'error.main', word: 'Stop' },
  warn: { icon: mdiAlertOutline, colour: 'warning.main', word: 'Look here' },
  note: { icon: mdiInformationOutline, colour: 'text.secondary', word: 'Note' },
};

/** A mark for each finding, for a line of a table. */
export const FindingMarks = ({ findings }: { readonly findings: readonly Finding<string>[] }) =>
  findings.map(({ id, path, severity, message }) => (
    <Icon
      key={`${id} ${path}`}
      path={severityLook[severity].icon}
      sx={{ color: severityLook[severity].colour }}
      titleAccess={message}
    />
  ));

/** Findings, each with the way to the field that mends it. */
export function FindingList(props: {
  readonly findings: readonly Finding<string>[];
  readonly placeOf: (path: string) => Place;
}) {
  const { findings, placeOf } = props;
  if (findings.length === 0)
    return <Typography color="text.secondary">No findings for the values entered so far.</Typography>;
  return (
    <Findings aria-label="Findings">
      {findings.map(({ id, path, severity, message, remedy }) => {
        const place = placeOf(path);
        return (
          <FindingItem
            key={`${id} ${path}`}
            {...{ severity, message, remedy }}
            place={place.words}
            to={addressOf(place, path)}
          />
        );
      })}
    </Findings>
  );
}

/** Plain elements: their numbers change with every keystroke. */
const FindingItem = memo(function FindingItem(
  props: Pick<Finding, 'severity' | 'message' | 'remedy'> & { readonly place: string; readonly to: string },
) {
  const { severity, message, remedy, place, to } = props;
  return (
    <li className={severity}>
      <SeverityIcon severity={severity} />
      <div>
        {message}
        <div className="remedy">{remedy}</div>
        <PlaceLink to={to} place={place} />
      </div>
    </li>
  );
});

/** It stays while the numbers of its finding change. */
const PlaceLink = memo(function PlaceLink({ to, place }: { readonly to: string; readonly place: string }) {
  return (
    <Link to={to} relative="path">
      {place}
    </Link>
  );
});

const SeverityIcon = memo(function SeverityIcon({ severity }: { readonly severity: Severity }) {
  const look = severityLook[severity];
  return <Icon path={look.icon} sx={{ color: look.colour }} titleAccess={look.word} />;
});

const Findings = styled('ul')(
  sxOnce({
    m: 0,
    p: 0,
    listStyle: 'none',
    display: 'grid',
    gap: 0.75,
    '& li': {
      display: 'grid',
      gridTemplateColumns: '22px 1fr',
      borderLeft: 3,
      pl: 0.75,
      fontSize: '0.8rem',
      lineHeight: 1.43,
    },
    '& .stop': { borderColor: severityLook.stop.colour },
    '& .warn': { borderColor: severityLook.warn.colour },
    '& .note': { borderColor: severityLook.note.colour },
    '& .remedy': { color: 'text.secondary' },
    '& a': { color: 'primary.main' },
  }),
);
