import type { ScaledCommandDocument } from '@kavrid/contract';
import { straightLine } from '@kavrid/core/measure';
import { formatNumber, toNumber } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';
import { Box, Button } from '@mui/material';
import { useAxis } from '../member/useAxis.ts';
import { useEdit } from '../member/memberContext.ts';
import { Hint } from '../ui/fieldParts.tsx';
import { PointsTable } from '../member/PointsTable.tsx';
import { ResidualPicture } from '../measure/ResidualPicture.tsx';
import { Panel } from '../ui/Panel.tsx';
import { useShownUnits } from '../ui/units.ts';
import { FactTable } from '../ui/FactTable.tsx';
import { useScaledCommand } from '../chain/useScaledCommand.ts';

/** Signals and what they really gave: a straight line through them against the one that is meant. */
export function CalibrationPanel() {
  const { computation } = useAxis();
  const edit = useEdit();
  const { typed, command } = useScaledCommand();
  const units = useShownUnits(computation.input);
  const { results } = computation;
  const points = pointsOf(typed);
  const fit = straightLine(points.map(({ signal, value }) => ({ x: signal, y: value })));
  const [gain, zero] = [valueOf(results.signalGain), valueOf(results.signalAtZero)];
  const unit = command.range.unit;
  const valueUnit = units.name('{value}');
  return (
    <Panel title="Calibration over many points">
      <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: '300px minmax(0, 1fr)', alignItems: 'start' }}>
        <PointsTable
          label="Points of the calibration"
          path={['command', 'calibration']}
          rows={typed.calibration}
          columns={[
            { field: 'signal', title: `Signal, ${unit}`, rule: 'anySignal' },
            {
              field: 'value',
              title: command.meaning === 'position' ? 'Measured' : `Measured, ${valueUnit}`,
              rule: command.meaning === 'position' ? 'position' : 'anyValue',
            },
          ]}
          blank={{ signal: null, value: null }}
        />
        {fit.state === 'unknown' ? (
          <Hint>Fit not known: {fit.because}.</Hint>
        ) : (
          <Box sx={{ display: 'grid', gap: 1 }}>
            <CalibrationFacts
              measuredGain={fit.value.slope}
              uncertainty={fit.value.slopeUncertainty}
              gain={gain && toNumber(gain)}
              atZero={fit.value.slope * (zero ? toNumber(zero) : 0) + (fit.value.offsets.get('') ?? 0)}
              scatter={Math.max(...fit.value.residuals.map(Math.abs))}
              takeCreep={command.meaning === 'position' ? undefined : (creep) => edit(['command', 'creep'], creep)}
            />
            <ResidualPicture
              points={points.map(({ signal }, k) => ({
                x: signal,
                residual: units.shown(fit.value.residuals[k] ?? 0, '{value}'),
              }))}
              xUnit={unit}
              unit={valueUnit}
            />
          </Box>
        )}
      </Box>
    </Panel>
  );
}

const pointsOf = ({ calibration }: ScaledCommandDocument) =>
  calibration.flatMap(({ signal, value }) => (signal === null || value === null ? [] : [{ signal, value }]));

function CalibrationFacts(props: {
  readonly measuredGain: number;
  readonly uncertainty: number;
  readonly gain: number | undefined;
  readonly atZero: number;
  readonly scatter: number;
  readonly takeCreep: ((creep: number) => void) | undefined;
}) {
  const { measuredGain, uncertainty, gain, atZero, scatter, takeCreep } = props;
  const { computation } = useAxis();
  const units = useShownUnits(computation.input);
  const full = valueOf(computation.results.valueAtFullSignal);
  const off = gain === undefined ? undefined : measuredGain / gain - 1;
  const isNoise = gain === undefined || Math.abs(measuredGain - gain) <= uncertainty;
  const corrected = off === undefined || isNoise || !full ? undefined : toNumber(full) / (1 + off);
  return (
    <>
      <FactTable
        label="Calibration"
        rows={[
          {
            what: 'Measured gain',
            is: `${units.quantity(measuredGain, '{value}/{signal}')} ± ${Number.isFinite(uncertainty) ? formatNumber(uncertainty, 2) : 'unknown'}`,
            strong: true,
          },
          {
            what: 'Difference from the plan',
            is: off === undefined ? 'unknown' : `${formatNumber(100 * off, 3)} %`,
          },
          { what: 'At zero command', is: units.quantity(atZero, '{value}') },
          { what: 'Farthest from the line', is: units.quantity(scatter, '{value}') },
          ...(corrected === undefined
            ? []
            : [
                {
                  what: 'To match the plan, key in at full signal',
                  is: units.quantity(corrected, '{value}'),
                  strong: true,
                },
              ]),
        ]}
      />
      {isNoise && <Hint>Within the uncertainty of these points, the gain is as planned.</Hint>}
      {takeCreep && (
        <Button
          variant="outlined"
          onClick={() => takeCreep(Number(atZero.toPrecision(6)))}
          sx={{ justifySelf: 'start' }}
        >
          Take {units.quantity(atZero, '{value}')} as the creep
        </Button>
      )}
    </>
  );
}
