import { formatNumber } from '@kavrid/core/quantity';
import type { TooQuick } from '@kavrid/core/trace';
import { Alert } from '@mui/material';
import type { MeasuredTrace } from '../jobs/traceJob.ts';

const words: Readonly<Record<TooQuick['what'], (seconds: string, samples: string) => string>> = {
  ramp: (seconds, samples) =>
    `a ramp of ${seconds} ms has ${samples} samples: its peak error and torque may lie between them`,
  oscillation: (seconds, samples) =>
    `an oscillation with a period of ${seconds} ms has ${samples} samples a period: its height cannot be read`,
  resonance: (seconds, samples) =>
    `the planned resonance with a period of ${seconds} ms has ${samples} samples a period: it would look like a slower one`,
};

/** What the traces are too slow for. */
export function TooQuickNotes({
  measured,
  nameOf,
}: {
  readonly measured: readonly MeasuredTrace[];
  readonly nameOf: (id: string) => string;
}) {
  const notes = measured.flatMap(({ id, tooQuick }) =>
    tooQuick.map(
      ({ what, seconds, samples }) =>
        `${nameOf(id)}: ${words[what](formatNumber(1000 * seconds, 3), formatNumber(samples, 2))}`,
    ),
  );
  if (notes.length === 0) return null;
  return (
    <Alert severity="warning" sx={{ py: 0 }}>
      {`This trace is too slow for what it is to show. ${notes.join('; ')}. Record it with a shorter sample period.`}
    </Alert>
  );
}
