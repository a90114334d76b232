import { newLoop } from '@kavrid/contract';
import { formatNumber, toNumber } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';
import { Box, Button } from '@mui/material';
import { useAxis } from '../member/useAxis.ts';
import { useEdit } from '../member/memberContext.ts';
import { Hint, Pair } from '../ui/fieldParts.tsx';
import { Toggle } from '../member/Toggle.tsx';
import { Panel } from '../ui/Panel.tsx';
import { ExactField, NumberField } from '../member/QuantityField.tsx';
import { useShownUnits } from '../ui/units.ts';
import { AnalogOutputs } from './AnalogOutputs.tsx';
import { FactTable } from '../ui/FactTable.tsx';
import { useScaledCommand } from '../chain/useScaledCommand.ts';

const milliseconds = { unit: 'ms', of: 1000 };

/** A position loop in the controller over the speed command, and how far the axis runs if its feedback counts backwards. */
export function LoopPanel() {
  const { typed } = useScaledCommand();
  const edit = useEdit();
  if (typed.kind !== 'analog') return null;
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      {typed.loop === null ? (
        <Panel title="No position loop in the controller">
          <Hint>
            With a speed command the controller can close the position loop: the drive controls the speed, and its
            encoder output is fed back to the controller.
          </Hint>
          <Button variant="outlined" sx={{ mt: 1 }} onClick={() => edit(['command', 'loop'], newLoop())}>
            Close the loop in the controller
          </Button>
        </Panel>
      ) : (
        <OpenLoop />
      )}
      <AnalogOutputs />
    </Box>
  );
}

const path = <Field extends string>(field: Field) => ['command', 'loop', field] as const;

function OpenLoop() {
  const edit = useEdit();
  const { command } = useScaledCommand();
  return (
    <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: '1fr 1fr', alignItems: 'start' }}>
      <Panel title="Loop and feedback">
        <Box sx={{ display: 'grid', gap: 1.25, pt: 0.5 }}>
          <Pair>
            <NumberField label="Position gain" path={path('gain')} rule="gain" />
            <NumberField label="Integral gain" path={path('integralGain')} rule="integralGain" help="empty: none" />
            <NumberField
              label="Velocity feedforward"
              path={path('velocityFeedforward')}
              rule="percent"
              help="empty: none"
            />
            <NumberField label="Loop period" path={path('period')} rule="loopPeriod" shownIn={milliseconds} />
            <ExactField
              label="Encoder output"
              path={path('outputPulses')}
              rule="outputPulses"
              help="pulses a motor turn, before ×4"
            />
            <NumberField label="Drive encoder output limit" path={path('outputRate')} rule="pulseRate" />
            <NumberField label="Controller encoder input limit" path={path('inputRate')} rule="pulseRate" />
          </Pair>
          <Toggle
            label="Feedback direction opposite to command"
            path={path('feedbackInverted')}
            value={command.hostLoop?.feedbackInverted ?? false}
          />
          <Pair>
            <NumberField label="Error limit" path={path('errorLimit')} rule="distance" />
            <NumberField label="Reaction time" path={path('reactionTime')} rule="dwell" shownIn={milliseconds} />
            <NumberField label="Deceleration on error" path={path('deceleration')} rule="acceleration" />
          </Pair>
          <Button sx={{ justifySelf: 'start' }} onClick={() => edit(['command', 'loop'], null)}>
            Leave the loop to the drive
          </Button>
        </Box>
      </Panel>
      <Panel title="Results">
        <LoopFacts />
      </Panel>
    </Box>
  );
}

function LoopFacts() {
  const { computation } = useAxis();
  const { input, results } = computation;
  const { command } = useScaledCommand();
  const units = useShownUnits(input);
  const number = (value: number | undefined, template: string) =>
    value === undefined ? 'unknown' : units.quantity(value, template);
  const divider = valueOf(results.encoderDivider);
  const counts = valueOf(results.hostCountsPerUnit);
  const rate = valueOf(results.encoderRateAtFullCommand);
  const damping = valueOf(results.hostDamping);
  const [distance, travel] = [valueOf(results.runawayDistance), valueOf(results.travel)];
  const least = Math.min(
    ...[command.hostLoop?.inputRate, command.hostLoop?.outputRate].map((each) => (each && valueOf(each)) ?? Infinity),
  );
  const left = travel && !input.endless ? toNumber(travel) / 2 : undefined;
  return (
    <>
      <FactTable
        label="Position loop in the controller"
        rows={[
          { what: 'Encoder counts per feedback count', is: divider ? formatNumber(toNumber(divider), 6) : 'unknown' },
          {
            what: 'Feedback counts at the controller',
            is: counts ? `${formatNumber(toNumber(counts), 7)} counts/${input.axisUnit}` : 'unknown',
            strong: true,
          },
          {
            what: 'Pulses fed back at full command',
            is: rate === undefined ? 'unknown' : `${formatNumber(rate, 6)} /s`,
            isWrong: rate !== undefined && rate > least,
          },
          { what: 'Error held by one command step', is: number(valueOf(results.errorOfOneStep), '{u}') },
          { what: 'Following error at the wanted speed', is: number(valueOf(results.steadyLag), '{u}') },
          {
            what: 'Damping',
            is: damping === undefined ? 'unknown' : formatNumber(damping, 3),
            isWrong: damping !== undefined && damping < 0.4,
          },
        ]}
      />
      <Hint>If the feedback is inverted, the axis runs away at the first error:</Hint>
      <FactTable
        label="Runaway"
        rows={[
          { what: 'Caught at', is: number(valueOf(results.runawaySpeed), '{u}/s') },
          {
            what: 'Runaway distance, worst case',
            is: number(distance, '{u}'),
            strong: true,
            isWrong: distance !== undefined && left !== undefined && distance > left,
          },
          {
            what: 'Room from mid-travel',
            is: left === undefined ? (input.endless ? 'endless' : 'unknown') : number(left, '{u}'),
          },
        ]}
      />
    </>
  );
}
