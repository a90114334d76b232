import { alarmCases, enableCases, limitCases } from '@kavrid/core/signal';
import { Box, Typography } from '@mui/material';
import type { ReactNode } from 'react';
import { skipToken } from '@reduxjs/toolkit/query';
import { useAxis } from '../member/useAxis.ts';
import { Hint, Pair } from '../ui/fieldParts.tsx';
import { Toggle } from '../member/Toggle.tsx';
import { useReadEntryQuery } from '../store/api.ts';
import { DocumentChoice } from '../member/DocumentChoice.tsx';
import { Panel } from '../ui/Panel.tsx';
import { NumberField } from '../member/QuantityField.tsx';

const contacts = [
  { value: 'normallyClosed' as const, label: 'normally closed (opens on alarm)' },
  { value: 'normallyOpen' as const, label: 'normally open (closes on alarm)' },
];

/** Enable, alarm, limits and safe torque off as wired, and what follows when a wire breaks or power fails. */
export function ProtectionPanel() {
  const { document } = useAxis();
  return (
    <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: '1fr 1fr', alignItems: 'start' }}>
      <EnablePanel />
      <AlarmPanel />
      {document.motion.kind === 'linear' && <LimitsPanel />}
      <TorqueOffPanel />
      <Box sx={{ gridColumn: '1 / -1' }}>
        <AlarmList />
      </Box>
    </Box>
  );
}

const Fields = ({ children }: { readonly children: ReactNode }) => (
  <Box sx={{ display: 'grid', gap: 1.25, pt: 0.5 }}>{children}</Box>
);

/** Situations and what comes of them; a wrong answer stands in brick. */
function CaseTable(props: {
  readonly label: string;
  readonly rows: readonly { readonly situation: string; readonly outcome: string; readonly isRight: boolean }[];
}) {
  return (
    <Box
      component="table"
      aria-label={props.label}
      sx={{
        width: '100%',
        borderCollapse: 'collapse',
        fontSize: 13,
        mt: 1,
        '& th': { textAlign: 'left', fontWeight: 400, py: 0.25 },
        '& td': { textAlign: 'right', fontWeight: 600 },
        '& .wrong': { color: 'error.main' },
      }}
    >
      <tbody>
        {props.rows.map(({ situation, outcome, isRight }) => (
          <tr key={situation}>
            <th scope="row">{situation}</th>
            <td className={isRight ? undefined : 'wrong'}>{outcome}</td>
          </tr>
        ))}
      </tbody>
    </Box>
  );
}

const level = [
  { value: 'high' as const, label: 'high: current flows' },
  { value: 'low' as const, label: 'low: no current' },
];

function EnablePanel() {
  const { document, computation } = useAxis();
  const { enable } = document.protection;
  const cases = enableCases(computation.input.protection.enable);
  return (
    <Panel title="Enable">
      <Fields>
        <Toggle
          label="Enable wired from the controller"
          path={['protection', 'enable', 'isWired']}
          value={enable.isWired}
        />
        <Pair>
          <DocumentChoice
            label="Enable output active"
            value={enable.controllerLevel}
            choices={level}
            path={['protection', 'enable', 'controllerLevel']}
          />
          <DocumentChoice
            label="Enable input active"
            value={document.settings.enableActiveLevel}
            choices={level}
            path={['settings', 'enableActiveLevel']}
          />
        </Pair>
      </Fields>
      <CaseTable
        label="At enable"
        rows={cases.map(({ situation, isEnabled, isRight }) => ({
          situation: `${situation[0]?.toUpperCase()}${situation.slice(1)}`,
          outcome: isEnabled ? 'live' : 'off',
          isRight,
        }))}
      />
    </Panel>
  );
}

function AlarmPanel() {
  const { document, computation } = useAxis();
  const { alarm } = document.protection;
  const cases = alarmCases(computation.input.protection.alarm);
  return (
    <Panel title="Alarm">
      <Fields>
        <DocumentChoice
          label="Alarm contact type"
          value={alarm.contact}
          choices={contacts}
          path={['protection', 'alarm', 'contact']}
        />
        <Pair>
          <DocumentChoice
            label="Alarm contact shared with others"
            value={alarm.joined}
            choices={[
              { value: 'alone', label: 'alone' },
              { value: 'series', label: 'in series' },
              { value: 'parallel', label: 'in parallel' },
            ]}
            path={['protection', 'alarm', 'joined']}
          />
          <NumberField label="Drives on it" path={['protection', 'alarm', 'drives']} rule="drives" />
        </Pair>
      </Fields>
      <CaseTable
        label="Faults detected by the controller"
        rows={cases.map(({ situation, isSeen, isIdentified }) => ({
          situation: `${situation[0]?.toUpperCase()}${situation.slice(1)}`,
          outcome: !isSeen ? 'not seen' : isIdentified ? 'seen, and which' : 'seen, not which',
          isRight: isSeen,
        }))}
      />
    </Panel>
  );
}

function LimitsPanel() {
  const { document, computation } = useAxis();
  const cases = limitCases(computation.input.protection.limits);
  return (
    <Panel title="Limit switches">
      <Pair>
        <DocumentChoice
          label="Limit switch contacts"
          value={document.protection.limits.contact}
          choices={[
            { value: 'normallyClosed', label: 'normally closed' },
            { value: 'normallyOpen', label: 'normally open' },
          ]}
          path={['protection', 'limits', 'contact']}
        />
        <DocumentChoice
          label="Limit input active"
          value={document.settings.limitActiveLevel}
          choices={level}
          path={['settings', 'limitActiveLevel']}
        />
      </Pair>
      <CaseTable
        label="Limit switch behaviour"
        rows={[
          {
            situation: 'A switch is actuated',
            outcome: cases.struckStops ? 'stops' : 'runs on',
            isRight: cases.struckStops,
          },
          {
            situation: 'No switch is actuated',
            outcome: cases.freeMoves ? 'moves' : 'is held',
            isRight: cases.freeMoves,
          },
          {
            situation: 'Broken wire',
            outcome: cases.brokenWireStops ? 'stops' : 'goes unseen',
            isRight: cases.brokenWireStops,
          },
        ]}
      />
    </Panel>
  );
}

function TorqueOffPanel() {
  const { document } = useAxis();
  return (
    <Panel title="Safe torque off">
      <DocumentChoice
        label="Safe torque off inputs"
        value={document.protection.safeTorqueOff}
        choices={[
          { value: 'none', label: 'the drive has none' },
          { value: 'bridged', label: 'bridged' },
          { value: 'one channel', label: 'one channel wired' },
          { value: 'two channels', label: 'both channels wired' },
        ]}
        path={['protection', 'safeTorqueOff']}
      />
      <Hint>
        Kavrid is not a safety function. Prove the hardware stop before first power (IEC 60204-1, ISO 13849-1), and wait
        15 minutes before touching a drive’s terminals.
      </Hint>
    </Panel>
  );
}

/** The alarms of the drive's library entry: how each clears, and whether the position is still to be trusted afterwards. */
function AlarmList() {
  const { document } = useAxis();
  const { data } = useReadEntryQuery(document.drive.entry?.id ?? skipToken);
  const alarms = data?.item.shelf === 'drive' ? data.item.entry.alarms : [];
  return (
    <Panel title="Drive alarms">
      {alarms.length === 0 ? (
        <Typography color="text.secondary">
          The drive’s library entry lists no alarms. Enter them there from the drive manual.
        </Typography>
      ) : (
        <Box
          component="table"
          aria-label="Alarms of this drive"
          sx={{
            width: '100%',
            borderCollapse: 'collapse',
            fontSize: 13,
            '& th, & td': { textAlign: 'left', py: 0.25, pr: 1, verticalAlign: 'top' },
            '& .lost': { color: 'error.main', fontWeight: 600 },
          }}
        >
          <thead>
            <tr>
              <th>Shown as</th>
              <th>Meaning</th>
              <th>Clears</th>
              <th>Position afterwards</th>
              <th>Remedy</th>
            </tr>
          </thead>
          <tbody>
            {alarms.map(({ code, meaning, clears, positionStays, remedy }) => (
              <tr key={code}>
                <td>{code}</td>
                <td>{meaning}</td>
                <td>{clears}</td>
                <td className={positionStays ? undefined : 'lost'}>
                  {positionStays ? 'still valid' : 'lost: home again'}
                </td>
                <td>{remedy}</td>
              </tr>
            ))}
          </tbody>
        </Box>
      )}
    </Panel>
  );
}
