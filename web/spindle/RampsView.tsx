import { Box, Button } from '@mui/material';
import { Between, Column, Hint, Pair } from '../ui/fieldParts.tsx';
import { Toggle } from '../member/Toggle.tsx';
import { useEdit } from '../member/memberContext.ts';
import { DocumentChoice } from '../member/DocumentChoice.tsx';
import { Panel } from '../ui/Panel.tsx';
import { NumberField } from '../member/QuantityField.tsx';
import { BusVoltsChart } from './BusVoltsChart.tsx';
import { useSpindle } from '../member/useSpindle.ts';
import { SpindleResults } from './SpindleResults.tsx';
import { TopicFindings } from './TopicFindings.tsx';

/** Starting and stopping: what is possible, what is asked, and where the energy goes. */
export function RampsView() {
  const { document } = useSpindle();
  const edit = useEdit();
  const { settings, resistor, interlocks } = document;
  return (
    <Box
      sx={{
        display: 'grid',
        gap: 1,
        gridTemplateColumns: { xs: '1fr', md: '290px minmax(380px, 1fr) 310px' },
        alignItems: 'start',
      }}
    >
      <Panel title="Ramps and brake">
        <Column>
          <Pair>
            <NumberField
              label="Ramp up"
              path={['settings', 'rampUp']}
              rule="rampTime"
              help="rest to highest frequency"
            />
            <NumberField label="Ramp down" path={['settings', 'rampDown']} rule="rampTime" help="and back" />
          </Pair>
          <DocumentChoice
            label="Stop method"
            value={settings.stopWay}
            path={['settings', 'stopWay']}
            choices={[
              { value: 'ramp', label: 'ramp to standstill' },
              { value: 'coast', label: 'coasting' },
            ]}
          />
          <Between>Wanted, from and to the highest wanted speed</Between>
          <Pair>
            <NumberField label="Start within" path={['wanted', 'startTime']} rule="rampTime" />
            <NumberField label="Stop within" path={['wanted', 'stopTime']} rule="rampTime" />
            <NumberField label="Time between stops" path={['wanted', 'stopEvery']} rule="time" />
          </Pair>
          <Between>Brake resistor</Between>
          {resistor ? (
            <>
              <Pair>
                <NumberField label="Resistance" path={['resistor', 'ohms']} rule="resistance" />
                <NumberField label="Power rating" path={['resistor', 'power']} rule="power" />
              </Pair>
              <Button onClick={() => edit(['resistor'], null)}>Remove</Button>
            </>
          ) : (
            <>
              <Hint>No brake resistor.</Hint>
              <Button data-field="/resistor" onClick={() => edit(['resistor'], { ohms: null, power: null })}>
                Fit one
              </Button>
            </>
          )}
          <Toggle
            label="Guard locked until standstill"
            path={['interlocks', 'guardLock']}
            value={interlocks.guardLock}
          />
        </Column>
      </Panel>
      <Box sx={{ display: 'grid', gap: 1 }}>
        <BusVoltsChart />
        <Panel title="Energy">
          <SpindleResults
            groups={[
              {
                title: 'Energy',
                symbols: ['kineticEnergy', 'returnedEnergy', 'capacitorEnergy', 'busVolts', 'busVoltsAfterStop'],
              },
              {
                title: 'Brake resistor for this stop',
                symbols: [],
                optional: ['leastOhms', 'resistorMost', 'resistorPeak', 'resistorMean'],
              },
            ]}
          />
        </Panel>
      </Box>
      <Box sx={{ display: 'grid', gap: 1 }}>
        <TopicFindings topic="ramps" />
        <Panel title="Timing">
          <SpindleResults
            groups={[
              { title: 'Start', symbols: ['totalInertia', 'availableTorque', 'reachableStart', 'plannedStart'] },
              { title: 'Stop', symbols: ['plannedStop', 'shortestStop', 'coastingTime'] },
            ]}
          />
        </Panel>
      </Box>
    </Box>
  );
}
