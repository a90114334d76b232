import { registerPurposes } from '@kavrid/contract';
import { atSpeedWays, lostLinkActions, runSources, speedSources } from '@kavrid/core/spindle';
import { Box } from '@mui/material';
import { Between, Column, Hint, Pair } from '../ui/fieldParts.tsx';
import { Toggle } from '../member/Toggle.tsx';
import { TextLine } from '../member/TextLine.tsx';
import { PointsTable } from '../member/PointsTable.tsx';
import { DocumentChoice } from '../member/DocumentChoice.tsx';
import { Panel } from '../ui/Panel.tsx';
import { NumberField } from '../member/QuantityField.tsx';
import { useSpindle } from '../member/useSpindle.ts';
import { SpindleResults } from './SpindleResults.tsx';
import { TopicFindings } from './TopicFindings.tsx';

const asChoices = <T extends string>(values: readonly T[]) => values.map((value) => ({ value, label: value }));

/** Who starts and stops the spindle, what stops when it trips, and the field bus where there is one. */
export function BusView() {
  const { command } = useSpindle().document;
  const hasBus = command.kind === 'fieldBus';
  return (
    <Box sx={{ ...grid, gridTemplateColumns: { xs: '1fr', md: '290px minmax(0, 1fr)' } }}>
      <Box sx={grid}>
        <InterlockFields />
        {hasBus && <LineFields />}
      </Box>
      <Box sx={grid}>
        <Box sx={{ ...grid, gridTemplateColumns: { xs: '1fr', md: 'minmax(0, 1fr) 310px' } }}>
          {hasBus ? (
            <PollPanel />
          ) : (
            <Panel title="Link to the drive">
              <Column>
                <NumberField
                  label="Communication timeout"
                  path={['bus', 'timeOut']}
                  rule="dwell"
                  shownIn={{ unit: 'ms', of: 1000 }}
                  help="set in the drive: the drive stops by itself when the link to Kavrid is lost"
                />
                <Hint>
                  The command of this spindle does not use a field bus. To command it over one, choose the field bus as
                  the signal on the page Plates and scaling.
                </Hint>
              </Column>
            </Panel>
          )}
          <Box sx={grid}>
            <TopicFindings topic="bus" />
            {hasBus && <BusResults />}
          </Box>
        </Box>
        {hasBus && <RegisterPanel />}
      </Box>
    </Box>
  );
}

const grid = { display: 'grid', gap: 1, alignItems: 'start' } as const;

const BusResults = () => (
  <Panel title="Results">
    <SpindleResults
      groups={[
        { title: 'On the line', symbols: ['characterTime', 'silence', 'pollRound', 'busLoad', 'leastTimeOut'] },
        { title: 'When the link is lost', symbols: ['lostLinkTime', 'lostLinkTurns'] },
      ]}
    />
  </Panel>
);

function InterlockFields() {
  const { interlocks, settings } = useSpindle().document;
  return (
    <Panel title="Start, speed, interlocks">
      <Column>
        <DocumentChoice
          label="Run command source"
          value={interlocks.runSource}
          path={['interlocks', 'runSource']}
          choices={asChoices(runSources)}
        />
        <DocumentChoice
          label="Drive setting: run command source"
          value={settings.runSource}
          path={['settings', 'runSource']}
          choices={asChoices(runSources)}
        />
        <DocumentChoice
          label="Drive setting: speed command source"
          value={settings.speedSource}
          path={['settings', 'speedSource']}
          choices={asChoices(speedSources)}
        />
        <DocumentChoice
          label="Enable terminal"
          value={interlocks.enable}
          path={['interlocks', 'enable']}
          choices={[
            { value: 'wired to the chain', label: 'wired into the stop chain' },
            { value: 'link in place', label: 'wire link fitted' },
            { value: 'nothing there', label: 'not connected' },
            { value: 'not needed', label: 'the drive has none' },
          ]}
        />
        <DocumentChoice
          label="At-speed check before feed"
          value={interlocks.atSpeed}
          path={['interlocks', 'atSpeed']}
          choices={asChoices(atSpeedWays)}
        />
        <Toggle
          label="Spindle trip stops the machine"
          path={['interlocks', 'tripStopsMachine']}
          value={interlocks.tripStopsMachine}
        />
      </Column>
    </Panel>
  );
}

function LineFields() {
  const { bus } = useSpindle().document;
  const end = (which: 'controller' | 'drive', title: string) => (
    <>
      <Between>{title}</Between>
      <Pair>
        <NumberField label={`${title}: baud`} path={['bus', which, 'baud']} rule="baud" />
        <NumberField label={`${title}: address`} path={['bus', which, 'address']} rule="busAddress" />
        <DocumentChoice
          label={`${title}: parity`}
          value={bus[which].parity}
          path={['bus', which, 'parity']}
          choices={asChoices(['none', 'even', 'odd'] as const)}
        />
        <DocumentChoice
          label={`${title}: stop bits`}
          value={bus[which].stopBits}
          path={['bus', which, 'stopBits']}
          choices={asChoices(['1', '2'] as const)}
        />
        <TextLine label={`${title}: line +`} path={['bus', which, 'positiveLabel']} value={bus[which].positiveLabel} />
        <TextLine label={`${title}: line −`} path={['bus', which, 'negativeLabel']} value={bus[which].negativeLabel} />
      </Pair>
    </>
  );
  return (
    <Panel title="Serial line, both ends">
      <Column>
        {end('controller', 'Controller')}
        {end('drive', 'Drive')}
        <Toggle label="A and B lines swapped" path={['bus', 'crossed']} value={bus.crossed} />
      </Column>
    </Panel>
  );
}

const functionWords = [
  { value: '3', label: '3 read' },
  { value: '4', label: '4 read inputs' },
  { value: '6', label: '6 write one' },
  { value: '16', label: '16 write several' },
] as const;

function PollPanel() {
  const { bus } = useSpindle().document;
  return (
    <Panel title="Controller poll list">
      <Column>
        <PointsTable
          label="Poll list"
          what="message"
          path={['bus', 'messages']}
          rows={bus.messages}
          most={32}
          columns={[
            { field: 'name', title: 'Content', isText: true, width: '46%' },
            { field: 'functionCode', title: 'Function', choices: functionWords },
            { field: 'register', title: 'Register, from 0', rule: 'register', width: '16%' },
            { field: 'registers', title: 'Count', rule: 'registerCount' },
          ]}
          blank={{ name: 'status', functionCode: '3', register: null, registers: 1 }}
        />
        <Pair>
          <NumberField
            label="Poll period"
            path={['bus', 'period']}
            rule="rampTime"
            shownIn={{ unit: 'ms', of: 1000 }}
          />
          <NumberField
            label="Communication timeout"
            path={['bus', 'timeOut']}
            rule="dwell"
            shownIn={{ unit: 'ms', of: 1000 }}
            help="0: no monitoring"
          />
          <DocumentChoice
            label="On loss of communication"
            value={bus.lostLink}
            path={['bus', 'lostLink']}
            choices={asChoices(lostLinkActions)}
          />
          <NumberField
            label="Drive response time"
            path={['drive', 'answerDelay']}
            rule="rampTime"
            shownIn={{ unit: 'ms', of: 1000 }}
          />
        </Pair>
        <Toggle label="Controller numbers registers from 1" path={['bus', 'oneBased']} value={bus.oneBased} />
      </Column>
    </Panel>
  );
}

function RegisterPanel() {
  const { drive } = useSpindle().document;
  return (
    <Panel title="Drive registers">
      <Column>
        {drive.registers.length === 0 && (
          <Hint>None yet. They come with the drive’s library entry, or are entered from its manual.</Hint>
        )}
        <PointsTable
          label="Drive registers"
          what="register"
          path={['drive', 'registers']}
          rows={drive.registers}
          most={64}
          columns={[
            { field: 'name', title: 'Register', isText: true, width: '16%' },
            { field: 'purpose', title: 'Is', width: '18%', choices: asChoices(registerPurposes) },
            { field: 'register', title: 'From 0', rule: 'register', width: '8%' },
            { field: 'functionCode', title: 'Function', choices: functionWords },
            { field: 'meaning', title: 'Meaning', isText: true, width: '42%' },
          ]}
          blank={{ name: 'Register', purpose: 'other', register: null, functionCode: '3', meaning: '' }}
        />
        <Toggle label="Drive manual numbers registers from 1" path={['drive', 'oneBased']} value={drive.oneBased} />
        {drive.oneBased && <Hint>Numbers here begin at 0: subtract one from those in the manual.</Hint>}
      </Column>
    </Panel>
  );
}
