import type { AxisDocument } from '@kavrid/contract';
import { alarmLoops, type AlarmCase, type AlarmLoop, type SafeTorqueOff } from '@kavrid/core/signal';
import { Box, styled, Table, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material';
import { useMemo } from 'react';
import { Panel } from '../ui/Panel.tsx';
import { sxOnce } from '../ui/sxOnce.ts';

const Chain = styled('ol')(
  sxOnce({
    listStyle: 'none',
    display: 'flex',
    flexWrap: 'wrap',
    alignItems: 'center',
    rowGap: 1,
    m: 0,
    p: 0,
    fontSize: 12.5,
    '& > li': { display: 'flex', alignItems: 'center' },
    // The wire from one contact to the next.
    '& > li:not(:first-of-type)::before': { content: '""', width: 26, borderTop: 2, borderColor: 'text.primary' },
    '& .place': {
      border: 1.5,
      borderColor: 'text.primary',
      borderRadius: 0.5,
      px: 1,
      py: 0.25,
      bgcolor: 'background.default',
    },
    // Contacts in parallel lie one below the other, between the same two wires.
    '& .beside': { display: 'grid', gap: 0.5, borderLeft: 2, borderRight: 2, borderColor: 'text.primary', px: 1 },
    '& .contact': { color: 'text.secondary', fontSize: 11.5 },
  }),
);

/** The alarm contacts of all axes as they reach the controller, and what stops each drive in hardware. */
export function AlarmChain({ axes }: { readonly axes: readonly AxisDocument[] }) {
  const loops = useMemo(
    () =>
      alarmLoops(
        axes.map(({ name, pair, protection: { alarm } }) => ({
          name,
          drives: pair ? 2 : 1,
          alarm: { ...alarm, drives: alarm.drives ?? 1 },
        })),
      ),
    [axes],
  );
  if (axes.length === 0) return null;
  return (
    <Panel title="Alarm and stop chain" style={{ marginTop: 12 }}>
      {loops.map((loop) => (
        <Loop key={loop.contacts.map(({ name }) => name).join()} loop={loop} />
      ))}
      <StopTable axes={axes} />
    </Panel>
  );
}

const situations: Readonly<Record<AlarmCase['situation'], string>> = {
  'a drive trips': 'a drive trips',
  'broken wire': 'a wire breaks',
  'a drive without power': 'a drive has no power',
};

function outcome({ situation, isSeen, isIdentified }: AlarmCase, isAlone: boolean): string {
  if (!isSeen) return 'not seen';
  if (isAlone && situation === 'broken wire') return 'seen, as if the drive had tripped';
  return isIdentified ? 'seen, and which drive' : 'seen, but not which drive';
}

function Loop({ loop: { joined, contacts, cases, problems } }: { readonly loop: AlarmLoop }) {
  const words = joined === 'alone' || contacts.length < 2 ? '' : ` in ${joined}`;
  return (
    <Box sx={{ borderBottom: 1, borderColor: 'divider', py: 0.75 }}>
      <Chain aria-label={`Alarm loop of ${contacts.map(({ name }) => name).join(', ')}`}>
        <li>
          <span className="place">supply</span>
        </li>
        {joined === 'parallel' ? (
          <li>
            <span className="beside">
              {contacts.map((each) => (
                <Contact key={each.name} {...each} />
              ))}
            </span>
          </li>
        ) : (
          contacts.map((each) => (
            <li key={each.name}>
              <Contact {...each} />
            </li>
          ))
        )}
        <li>
          <span className="place">{`controller input${words && `, contacts${words}`}`}</span>
        </li>
      </Chain>
      <Typography variant="body2" sx={{ mt: 0.25 }}>
        {cases.map((each, index) => (
          <Box
            key={each.situation}
            component="span"
            sx={{ color: each.isSeen ? undefined : 'error.main', fontWeight: each.isSeen ? 400 : 600 }}
          >
            {`${index > 0 ? ' · ' : ''}If ${situations[each.situation]}: ${outcome(each, contacts.length === 1)}`}
          </Box>
        ))}
      </Typography>
      {problems.map((problem) => (
        <Typography key={problem} variant="body2" color="error">
          {problem}
        </Typography>
      ))}
    </Box>
  );
}

function Contact({ name, contact }: AlarmLoop['contacts'][number]) {
  return (
    <span className="place">
      {name}
      <br />
      <span className="contact">{contact === 'normallyClosed' ? 'opens on alarm' : 'closes on alarm'}</span>
    </span>
  );
}

const stops: Readonly<Record<SafeTorqueOff, readonly [words: string, isWeak: boolean]>> = {
  'two channels': ['safe torque off by two channels', false],
  'one channel': ['safe torque off by one channel: one fault can defeat it', true],
  bridged: ['safe torque off is bridged: only cutting its power stops it', true],
  none: ['no safe torque off: only cutting its power stops it', true],
};

function StopTable({ axes }: { readonly axes: readonly AxisDocument[] }) {
  return (
    <Table
      size="small"
      aria-label="Hardware stop of each axis"
      sx={{ mt: 1, '& td, & th': { fontSize: 12.5, py: 0.25 } }}
    >
      <TableHead>
        <TableRow>
          {['Axis', 'Stopped in hardware by', 'Enable wire'].map((title) => (
            <TableCell key={title}>{title}</TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {axes.map(({ name, protection: { safeTorqueOff, enable } }) => {
          const [words, isWeak] = stops[safeTorqueOff];
          return (
            <TableRow key={name}>
              <TableCell>{name}</TableCell>
              <TableCell sx={{ color: isWeak ? 'warning.main' : undefined }}>{words}</TableCell>
              <TableCell>{enable.isWired ? 'from the controller' : 'none'}</TableCell>
            </TableRow>
          );
        })}
      </TableBody>
    </Table>
  );
}
