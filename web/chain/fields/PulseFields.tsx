import type { CommandDocument, PulseCommand } from '@kavrid/contract';
import type { PulseForm } from '@kavrid/core/signal';
import { DocumentChoice } from '../../member/DocumentChoice.tsx';
import { ExactField, NumberField } from '../../member/QuantityField.tsx';
import { Pair } from '../../ui/fieldParts.tsx';

export const formLabels: Readonly<Record<PulseForm, string>> = {
  stepDirection: 'Step and direction',
  clockwisePulses: 'Clockwise and counter-clockwise pulses',
  quadrature: 'Quadrature (two phases)',
};

/** The line that pulses go over. */
export function PulseLineFields({ command: { electrical } }: { readonly command: PulseCommand }) {
  return (
    <>
      <NumberField
        label="Highest pulse rate"
        path={['controller', 'maximumPulseRate']}
        rule="pulseRate"
        help="What it can actually send with all axes running."
      />
      <DocumentChoice
        label="Pulse line"
        value={electrical}
        path={['command', 'electrical']}
        choices={[
          { value: 'differential', label: 'Differential (line driver)' },
          { value: 'singleEnded', label: 'Single-ended' },
        ]}
      />
    </>
  );
}

/** A train at one fixed rate. */
export function TrainFields({ command }: { readonly command: Extract<CommandDocument, { kind: 'untimedPulses' }> }) {
  return (
    <>
      <DocumentChoice
        label="Form of the train"
        value={command.form}
        path={['command', 'form']}
        choices={(Object.keys(formLabels) as PulseForm[]).map((value) => ({ value, label: formLabels[value] }))}
      />
      <Pair>
        <ExactField label="Pulses of a train" path={['command', 'pulses']} rule="pulses" />
        <NumberField label="Pulse rate of the train" path={['command', 'rate']} rule="pulseRate" />
        <NumberField
          label="Repeat period of the train"
          path={['command', 'repeatPeriod']}
          rule="time"
          help="empty: not repeated"
        />
        <NumberField label="Drive’s smoothing" path={['command', 'smoothing']} rule="dwell" />
        <NumberField label="Drive’s speed limit" path={['command', 'speedLimit']} rule="speed" />
        <NumberField label="Drive’s acceleration" path={['command', 'acceleration']} rule="acceleration" />
      </Pair>
    </>
  );
}
