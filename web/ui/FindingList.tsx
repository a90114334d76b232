import { mdiAlertOctagonOutline, mdiAlertOutline, mdiInformationOutline } from '@mdi/js';
import type { Finding, Severity } from '@kavrid/core/findings';
import { Box, Typography } from '@mui/material';
import { memo } from 'react';
import { Icon } from './Icon.tsx';

export const severityLook: Readonly<
  Record<Severity, { readonly icon: string; readonly colour: string; readonly word: string }>
> = {
  stop: { icon: mdiAlertOctagonOutline, colour: 'error.main', word: 'Stop' },
  warn: { icon: mdiAlertOutline, colour: 'warning.main', word: 'Look here' },
  note: { icon: mdiInformationOutline, colour: 'text.secondary', word: 'Note' },
};

export function FindingList({ findings }: { readonly findings: readonly Finding[] }) {
  if (findings.length === 0)
    return <Typography color="text.secondary">Nothing is wrong with the numbers given so far.</Typography>;
  return (
    <Box component="ul" sx={{ m: 0, p: 0, listStyle: 'none', display: 'grid', gap: 0.75 }}>
      {findings.map(({ id, severity, message, remedy }) => (
        <FindingItem key={id} severity={severity} message={message} remedy={remedy} />
      ))}
    </Box>
  );
}

const FindingItem = memo(function FindingItem(props: Pick<Finding, 'severity' | 'message' | 'remedy'>) {
  const { severity, message, remedy } = props;
  const look = severityLook[severity];
  return (
    <Box
      component="li"
      sx={{ display: 'grid', gridTemplateColumns: '22px 1fr', borderLeft: 3, borderColor: look.colour, pl: 0.75 }}
    >
      <Icon path={look.icon} sx={{ color: look.colour }} titleAccess={look.word} />
      <Box>
        <Typography variant="body2">{message}</Typography>
        <Typography variant="body2" color="text.secondary">
          {remedy}
        </Typography>
      </Box>
    </Box>
  );
});
