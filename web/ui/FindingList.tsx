import { mdiAlertOctagonOutline, mdiAlertOutline, mdiInformationOutline } from '@mdi/js';
import type { Finding, Severity } from '@kavrid/core/findings';
import { Typography } from '@mui/material';
import { memo } from 'react';
import { Icon } from './Icon.tsx';
import { sheetOf } from './sheetOf.tsx';

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

export function FindingList({ findings }: { readonly findings: readonly Finding<string>[] }) {
  if (findings.length === 0)
    return <Typography color="text.secondary">Nothing is wrong with the numbers given so far.</Typography>;
  return (
    <>
      {sheet}
      <ul className="findings">
        {findings.map(({ id, path, severity, message, remedy }) => (
          <FindingItem key={`${id} ${path}`} severity={severity} message={message} remedy={remedy} />
        ))}
      </ul>
    </>
  );
}

/** Plain elements: their numbers change with every keystroke. */
const FindingItem = memo(function FindingItem(props: Pick<Finding, 'severity' | 'message' | 'remedy'>) {
  const { severity, message, remedy } = props;
  return (
    <li className={severity}>
      <SeverityIcon severity={severity} />
      <div>
        {message}
        <div className="remedy">{remedy}</div>
      </div>
    </li>
  );
});

const SeverityIcon = memo(function SeverityIcon({ severity }: { readonly severity: Severity }) {
  const look = severityLook[severity];
  return <Icon path={look.icon} sx={{ color: look.colour }} titleAccess={look.word} />;
});

const sheet = sheetOf('findings', {
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
});
