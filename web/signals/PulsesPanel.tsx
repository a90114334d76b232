import { formMismatch, timingPicture, type PulseForm } from '@kavrid/core/signal';
import { formatNumber } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';
import { newCommand, type CommandDocument } from '@kavrid/contract';
import { Box, Typography } from '@mui/material';
import { useMemo } from 'react';
import { useAxis } from '../member/useAxis.ts';
import { useEdit } from '../member/memberContext.ts';
import { formLabels } from '../chain/fields/PulseFields.tsx';
import { Hint, Pair } from '../ui/fieldParts.tsx';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { DocumentChoice } from '../member/DocumentChoice.tsx';
import { Panel } from '../ui/Panel.tsx';
import { NumberField } from '../member/QuantityField.tsx';
import { FactTable } from '../ui/FactTable.tsx';
import { PulseExport } from './PulseExport.tsx';
import { TimingPicture } from './TimingPicture.tsx';

const microseconds = { unit: 'µs', of: 1e6 };
const levels = [
  { value: 'high' as const, label: 'active high' },
  { value: 'low' as const, label: 'active low' },
];

/** The form at both ends, its timing to scale, and the highest rate that is left. */
export function PulsesPanel() {
  const { document, computation } = useAxis();
  const edit = useEdit();
  const { signal, command } = document;
  const { input, results } = computation;
  const forms = (Object.keys(formLabels) as PulseForm[]).map((value) => ({ value, label: formLabels[value] }));
  const mismatch = formMismatch(input.signal.form, input.signal.driveForm);
  const setForm = (form: PulseForm) =>
    command.kind === 'untimedPulses'
      ? edit(['command', 'form'], form)
      : edit(['command'], newCommand(form satisfies CommandDocument['kind'], command));
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Panel title="Pulse form and timing, both ends">
        <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: '1fr 1fr' }}>
          <Box sx={{ display: 'grid', gap: 1.25, alignContent: 'start' }}>
            <Typography variant="h3">Controller</Typography>
            <ChoiceField
              field="/command/kind"
              label="Controller pulse form"
              value={input.signal.form}
              choices={forms}
              onChange={setForm}
            />
            <Pair>
              <DocumentChoice
                label="Controller pulses active"
                value={signal.controllerActive}
                choices={levels}
                path={['signal', 'controllerActive']}
              />
              <NumberField
                label="Pulse width"
                path={['signal', 'pulseWidth']}
                rule="pulseWidth"
                shownIn={microseconds}
                help="empty: half of each period"
              />
            </Pair>
            <NumberField
              label="Direction set-up time sent"
              path={['signal', 'directionSetUp']}
              rule="pulseWidth"
              shownIn={microseconds}
            />
          </Box>
          <Box sx={{ display: 'grid', gap: 1.25, alignContent: 'start' }}>
            <Typography variant="h3">Drive</Typography>
            <DocumentChoice
              label="Drive pulse form"
              value={signal.driveForm}
              choices={forms}
              path={['signal', 'driveForm']}
            />
            <Pair>
              <DocumentChoice
                label="Drive counts pulses on"
                value={signal.driveActive}
                choices={levels}
                path={['signal', 'driveActive']}
              />
              <NumberField
                label="Minimum pulse width"
                path={['drive', 'minimumPulseWidth']}
                rule="pulseWidth"
                shownIn={microseconds}
              />
            </Pair>
            <NumberField
              label="Direction set-up time required"
              path={['drive', 'directionSetUp']}
              rule="pulseWidth"
              shownIn={microseconds}
            />
          </Box>
        </Box>
        {mismatch && (
          <Typography role="status" color="error" variant="body2" sx={{ pt: 1 }}>
            As set now, {mismatch.words}.
          </Typography>
        )}
        <Picture />
        {input.signal.form === 'quadrature' && (
          <Hint>
            One increment is one edge of either phase: four increments per cycle. Rates here count increments, so each
            phase runs at a quarter of the rate.
          </Hint>
        )}
      </Panel>
      <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: '1fr 1fr', alignItems: 'start' }}>
        <Panel title="Pulse rate limits">
          <RateTable />
          <Hint>
            {valueOf(results.pulseRateAtWantedSpeed) === undefined
              ? 'The rate needed follows from the wanted speed.'
              : 'Single-ended inputs commonly end near 200 kHz, differential ones near 4 MHz.'}
          </Hint>
        </Panel>
        <PulseExport />
      </Box>
    </Box>
  );
}

/** The timing at the rate that is needed, or at the highest that is possible. */
function Picture() {
  const { computation } = useAxis();
  const { input, results } = computation;
  const { form, sent, needed } = input.signal;
  const train = input.train && valueOf(input.train);
  const rate = train?.rate ?? valueOf(results.pulseRateAtWantedSpeed);
  const times = valueOf(needed);
  const picture = useMemo(
    () => (rate && times ? timingPicture(form, rate, sent, times) : undefined),
    [form, rate, sent, times],
  );
  if (needed.state === 'unknown') return <Hint>No picture yet: {needed.because}.</Hint>;
  if (!picture) return <Hint>No picture until the wanted speed and the steps per unit are known.</Hint>;
  return (
    <>
      <TimingPicture picture={picture} />
      <Hint>
        To scale, at {formatNumber(rate ?? 0, 5)} pulses/s ({train ? 'the rate of the train' : 'the wanted speed'}):
        three increments in the plus direction, a reversal, two back.
      </Hint>
    </>
  );
}

function RateTable() {
  const { computation } = useAxis();
  const { results, input } = computation;
  const pulses = (value: number | undefined) =>
    value === undefined ? 'unknown' : value === Infinity ? 'no limit given' : `${formatNumber(value, 6)} /s`;
  const highest = valueOf(results.highestPulseRate);
  const needed = valueOf(results.pulseRateAtWantedSpeed);
  return (
    <FactTable
      label="Pulse rates"
      rows={[
        { what: 'The controller sends', is: pulses(valueOf(results.controllerPulseRate)) },
        {
          what: `The drive’s ${input.signal.electrical === 'differential' ? 'differential' : 'single-ended'} input accepts`,
          is: pulses(valueOf(results.driveInputRate)),
        },
        { what: 'Pulse and gap allow', is: pulses(valueOf(results.pulseWidthRate)) },
        { what: 'Effective maximum', is: pulses(highest), strong: true },
        {
          what: 'The wanted speed needs',
          is: pulses(needed),
          isWrong: needed !== undefined && highest !== undefined && needed > highest,
        },
      ]}
    />
  );
}
