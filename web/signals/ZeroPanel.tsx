import { formatNumber, toNumber } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';
import { mayChange } from '@kavrid/core/signal';
import { standingAtEnable } from '@kavrid/core/findings';
import { signalRuleOf } from '@kavrid/contract';
import { Alert, Box, Button, Typography } from '@mui/material';
import { useAxis } from '../member/useAxis.ts';
import { useEdit } from '../member/memberContext.ts';
import { Hint, Pair } from '../ui/fieldParts.tsx';
import { Panel } from '../ui/Panel.tsx';
import { ExactField, NumberField } from '../member/QuantityField.tsx';
import { useShownUnits } from '../ui/units.ts';
import { CalibrationPanel } from './CalibrationPanel.tsx';
import { FactTable } from '../ui/FactTable.tsx';
import { useScaledCommand } from '../chain/useScaledCommand.ts';

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
          label="Signal present at enable"
          path={['command', 'standing']}
          rule={signalRuleOf(typed)}
          help="while the drive is enabled"
        />
        {typed.switchedOn ? (
          <>
            <Typography variant="body2">The command is planned as switched on: the drive responds to it.</Typography>
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
          <NumberField
            label="Drift at zero command"
            path={['command', 'creep']}
            rule={computation.input.motorForm === 'linear' ? 'linearCreep' : 'creep'}
            help="with its sign"
          />
          <NumberField
            label={`A step of the trim, ${command.range.unit}`}
            path={['command', 'trimStep']}
            rule="trimStep"
            help="empty: entered as a signal"
          />
        </Pair>
        <FactTable
          label="Offset"
          rows={[
            {
              what: 'Offset that stops it',
              is: offset === undefined ? 'unknown' : units.quantity(offset, '{signal}'),
              strong: true,
            },
            ...(trim === undefined ? [] : [{ what: 'Offset in steps of the drive’s trim', is: formatNumber(trim) }]),
            {
              what: 'Signal that the drive takes for zero',
              is: taken === undefined ? 'unknown' : units.quantity(taken, '{signal}'),
            },
          ]}
        />
        <Hint>It drifts again as the drive warms up: do not rely on it where the axis must stand still.</Hint>
      </Box>
    </Panel>
  );
}
