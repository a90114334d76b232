import { analogOutputMeanings } from '@kavrid/contract';
import { formatNumber } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';
import { Box } from '@mui/material';
import { useAxis } from '../member/useAxis.ts';
import { Hint } from '../ui/fieldParts.tsx';
import { PointsTable } from '../member/PointsTable.tsx';
import { Panel } from '../ui/Panel.tsx';
import { useShownUnits } from '../ui/units.ts';
import { FactTable } from '../ui/FactTable.tsx';

/** What the drive's own analog outputs tell a meter or the controller. */
export function AnalogOutputs() {
  const { document } = useAxis();
  const { command } = document;
  if (command.kind !== 'analog') return null;
  return (
    <Panel title="Analog outputs of the drive">
      <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: '1fr 1fr', alignItems: 'start' }}>
        <PointsTable
          label="Analog outputs"
          path={['command', 'outputs']}
          rows={command.outputs}
          columns={[
            {
              field: 'meaning',
              title: 'Output shows',
              choices: analogOutputMeanings.map((value) => ({ value, label: value })),
            },
            { field: 'volts', title: 'At full scale', rule: 'voltage' },
            { field: 'value', title: 'Meaning', rule: 'anyValue' },
          ]}
          blank={{ meaning: 'torque', volts: 10, value: null }}
          what="output"
        />
        <OutputFacts outputs={command.outputs} />
      </Box>
    </Panel>
  );
}

type Outputs = Extract<ReturnType<typeof useAxis>['document']['command'], { kind: 'analog' }>['outputs'];

/** What a meter shows at rated torque, at the wanted speed and at the alarm. */
function OutputFacts({ outputs }: { readonly outputs: Outputs }) {
  const { computation } = useAxis();
  const { results } = computation;
  const units = useShownUnits(computation.input);
  const marks = {
    torque: { what: 'at rated torque', value: 100, unit: '%' },
    speed: {
      what: 'at the wanted speed',
      value: valueOf(results.motorSpeedAtWantedSpeed),
      unit: units.name('{motorSpeed}'),
    },
    'following error': {
      what: 'at its alarm',
      value: valueOf(results.followingErrorWindow),
      unit: units.name('{u}'),
    },
  } as const;
  const rows = outputs.flatMap(({ meaning, volts, value }, k) => {
    const mark = marks[meaning];
    if (!volts || !value || mark.value === undefined) return [];
    return [
      {
        what: `Output ${k + 1} ${mark.what}`,
        is: `${formatNumber((volts * mark.value) / value, 4)} V (${formatNumber(value / volts, 4)} ${mark.unit} a volt)`,
        isWrong: Math.abs((volts * mark.value) / value) > Math.abs(volts),
      },
    ];
  });
  return rows.length === 0 ? (
    <Hint>
      For a load meter use torque, for an oscilloscope use speed. The unit is % of rated torque, rpm, or the axis unit.
    </Hint>
  ) : (
    <FactTable label="Analog outputs" rows={rows} />
  );
}
