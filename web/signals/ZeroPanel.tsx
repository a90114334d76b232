import { formatNumber, toNumber } from '@kavrid/core/quantity';
import { straightLine } from '@kavrid/core/measure';
import { valueOf } from '@kavrid/core/sheet';
import { mayChange } from '@kavrid/core/signal';
import { standingAtEnable } from '@kavrid/core/findings';
import { signalRuleOf, type ScaledCommandDocument } from '@kavrid/contract';
import { Alert, Box, Button, Typography } from '@mui/material';
import { useAxis, useEdit } from '../axis/axisContext.ts';
import { Hint, Pair } from '../chain/fields/parts.tsx';
import { ResidualPicture } from '../measure/ResidualPicture.tsx';
import { Panel } from '../ui/Panel.tsx';
import { ExactField, NumberField } from '../ui/QuantityField.tsx';
import { useShownUnits } from '../ui/units.ts';
import { FactTable } from './FactTable.tsx';
import { PointsTable } from '../measure/PointsTable.tsx';
import { useScaledCommand } from './useScaledCommand.ts';

/** What stands at the input while nothing is wanted, what creeps, and what the signal really gives. */
export function ZeroPanel() {
  const { command } = useScaledCommand();
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: '1fr 1fr', alignItems: 'start' }}>
        <EnablePanel />
        {command.meaning !== 'position' && <CreepPanel />}
      </Box>
      <CalibrationPanel />
    </Box>
  );
}

/** The command is off until it is switched on, and that is refused while a set-point stands there. */
function EnablePanel() {
  const { computation } = useAxis();
  const edit = useEdit();
  const { typed, command } = useScaledCommand();
  const units = useShownUnits(computation.input);
  const verdict = mayChange('enable', standingAtEnable({ ...computation, quantity: units.quantity }));
  const followed = command.meaning === 'position';
  return (
    <Panel title="At enable">
      <Box sx={{ display: 'grid', gap: 1.25, pt: 0.5 }}>
        <ExactField
          label="This signal stands there"
          path={['command', 'standing']}
          rule={signalRuleOf(typed)}
          help="while the drive is enabled"
        />
        {typed.switchedOn ? (
          <>
            <Typography variant="body2">The command is switched on: the drive is told to listen to it.</Typography>
            <Button variant="outlined" onClick={() => edit(['command', 'switchedOn'], false)}>
              Switch the command off
            </Button>
          </>
        ) : (
          <>
            <Button
              variant="contained"
              disabled={!verdict.may && !followed}
              onClick={() => edit(['command', 'switchedOn'], true)}
            >
              Switch the command on
            </Button>
            {!verdict.may && (
              <Alert severity={followed ? 'warning' : 'error'} sx={{ py: 0 }}>
                {followed ? 'Take care' : 'Refused'}: {verdict.because}.
              </Alert>
            )}
          </>
        )}
      </Box>
    </Panel>
  );
}

function CreepPanel() {
  const { computation } = useAxis();
  const { command } = useScaledCommand();
  const { results } = computation;
  const units = useShownUnits(computation.input);
  const [offset, trim] = [valueOf(results.creepOffset), valueOf(results.creepTrim)];
  const zero = valueOf(results.signalAtZero);
  const taken = zero && offset !== undefined ? toNumber(zero) - offset : undefined;
  return (
    <Panel title="Drift at zero">
      <Box sx={{ display: 'grid', gap: 1.25, pt: 0.5 }}>
        <Pair>
          <NumberField label="Creep at zero" path={['command', 'creep']} rule="creep" help="signed, as it turns" />
          <NumberField
            label={`A step of the trim, ${command.range.unit}`}
            path={['command', 'trimStep']}
            rule="trimStep"
            help="empty: the drive takes it as a signal"
          />
        </Pair>
        <FactTable
          label="Offset"
          rows={[
            {
              what: 'Added to the command, this ends it',
              is: offset === undefined ? 'unknown' : units.quantity(offset, '{signal}'),
              strong: true,
            },
            ...(trim === undefined ? [] : [{ what: '… in steps of a trim that adds', is: formatNumber(trim) }]),
            {
              what: 'So the drive is to take for zero',
              is: taken === undefined ? 'unknown' : units.quantity(taken, '{signal}'),
            },
          ]}
        />
        <Hint>It drifts again as the drive warms up: never rely on it where the axis must stand still.</Hint>
      </Box>
    </Panel>
  );
}

/** Signals and what they really gave: a straight line through them against the one that is meant. */
function CalibrationPanel() {
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
          <Hint>Fit: unknown, because {fit.because}.</Hint>
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
            what: 'Off from the plan',
            is: off === undefined ? 'unknown' : `${formatNumber(100 * off, 3)} %`,
          },
          { what: 'At zero command', is: units.quantity(atZero, '{value}') },
          { what: 'Farthest from the line', is: units.quantity(scatter, '{value}') },
          ...(corrected === undefined
            ? []
            : [
                {
                  what: 'To get the plan, key in at full signal',
                  is: units.quantity(corrected, '{value}'),
                  strong: true,
                },
              ]),
        ]}
      />
      {isNoise && <Hint>The gain is as planned, as far as these points can tell.</Hint>}
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
