import { Box } from '@mui/material';
import { Between, Column, Hint, Pair } from '../ui/fieldParts.tsx';
import { Toggle } from '../member/Toggle.tsx';
import { Later } from '../member/Later.tsx';
import { PointsTable } from '../member/PointsTable.tsx';
import { DocumentChoice } from '../member/DocumentChoice.tsx';
import { Panel } from '../ui/Panel.tsx';
import { NumberField } from '../member/QuantityField.tsx';
import { ConnectionPicture } from './ConnectionPicture.tsx';
import { CurveCharts } from './CurveCharts.tsx';
import { OrderOfWork } from './OrderOfWork.tsx';
import { useSpindle } from '../member/useSpindle.ts';
import { SpindleResults } from './SpindleResults.tsx';
import { TopicFindings } from './TopicFindings.tsx';

/** How the motor is connected, and which volts it gets at which frequency. */
export function CurveView() {
  return (
    <Box
      sx={{
        display: 'grid',
        gap: 1,
        gridTemplateColumns: { xs: '1fr', md: '290px minmax(380px, 1fr) 300px' },
        alignItems: 'start',
      }}
    >
      <Box sx={{ display: 'grid', gap: 1 }}>
        <ConnectionFields />
        <CurveFields />
      </Box>
      <Box sx={{ display: 'grid', gap: 1 }}>
        <Later>
          <CurveCharts />
        </Later>
        <OrderOfWork />
      </Box>
      <Box sx={{ display: 'grid', gap: 1 }}>
        <TopicFindings topic="curve" />
        <Panel title="Results">
          <SpindleResults
            groups={[
              {
                title: 'Connection',
                symbols: [
                  'connection',
                  'motorVolts',
                  'motorCurrent',
                  'noLoadCurrent',
                  'plateEfficiency',
                  'supplyCurrent',
                ],
              },
              {
                title: 'Curve',
                symbols: ['worstFlux', 'worstFluxHertz', 'constantPowerFrom', 'torqueAtTop'],
                optional: ['saturatedCurrent'],
              },
            ]}
          />
        </Panel>
      </Box>
    </Box>
  );
}

function ConnectionFields() {
  const { supply, settings } = useSpindle().document;
  return (
    <Panel title="Supply and connection">
      <Column>
        <Pair>
          <NumberField label="Supply" path={['supply', 'volts']} rule="plateVolts" />
          <DocumentChoice
            label="Phases"
            value={supply.phases}
            path={['supply', 'phases']}
            choices={[
              { value: '1', label: 'one' },
              { value: '3', label: 'three' },
            ]}
          />
          <NumberField label="Fuse" path={['supply', 'fuse']} rule="current" />
          <Toggle label="Earth connected" path={['supply', 'isEarthed']} value={supply.isEarthed} />
          <DocumentChoice
            label="Motor connected in"
            value={settings.connection}
            path={['settings', 'connection']}
            choices={[
              { value: 'star', label: 'star' },
              { value: 'delta', label: 'delta' },
            ]}
          />
          <NumberField label="Protection current" path={['settings', 'protectionCurrent']} rule="current" />
        </Pair>
        <ConnectionPicture connection={settings.connection} />
      </Column>
    </Panel>
  );
}

function CurveFields() {
  const { settings } = useSpindle().document;
  return (
    <Panel title="V/f curve, as set">
      <Column>
        <Pair>
          <NumberField label="Base frequency" path={['settings', 'baseHertz']} rule="hertz" />
          <NumberField label="Base voltage" path={['settings', 'baseVolts']} rule="plateVolts" />
          <NumberField label="Lowest frequency" path={['settings', 'lowestHertz']} rule="hertzOrNone" />
          <NumberField label="Highest frequency" path={['settings', 'highestHertz']} rule="hertz" />
          <NumberField label="Voltage boost at 0 Hz" path={['settings', 'boost']} rule="voltage" />
        </Pair>
        <Between>Intermediate points</Between>
        {settings.points.length === 0 && <Hint>None: a straight line from the boost to the base frequency.</Hint>}
        <PointsTable
          label="Points of the curve"
          path={['settings', 'points']}
          rows={settings.points}
          most={3}
          columns={[
            { field: 'hertz', title: 'Frequency', rule: 'hertz' },
            { field: 'volts', title: 'Volts', rule: 'voltage' },
          ]}
          blank={{ hertz: null, volts: null }}
        />
      </Column>
    </Panel>
  );
}
