import { formatNumber } from '@kavrid/core/quantity';
import { wantedMargins, type Margins } from '@kavrid/core/tuning';
import { Typography } from '@mui/material';
import type { TuningPlan } from '../jobs/tuningJob.ts';
import { MeasuredTable } from '../ui/MeasuredTable.tsx';
import { Panel } from '../ui/Panel.tsx';

const number = (value: number): string => (Number.isFinite(value) ? formatNumber(value, 3) : 'any');

/** Margins of both loops by the model: as planned, as tried, as suggested. */
export function MarginsPanel({ plan }: { readonly plan: TuningPlan | undefined }) {
  const { suggested, planned, trial, withNotch } = plan ?? {};
  return (
    <Panel title="Margins by the model">
      {plan?.because !== undefined && <Typography variant="body2">{`None: ${plan.because}.`}</Typography>}
      {plan?.isHopeless && (
        <Typography variant="body2">No gains keep the margins: the resonance is too low for this drive.</Typography>
      )}
      {planned && (
        <>
          <MeasuredTable
            label="Margins"
            heads={['Margins', 'Phase, °', 'Gain, dB', 'Ms']}
            rows={[
              marginRow('Speed loop, planned', planned.speed),
              marginRow('Position loop, planned', planned.position),
              ...(trial
                ? [marginRow('Speed loop, trial', trial.speed), marginRow('Position loop, trial', trial.position)]
                : []),
              ...(suggested
                ? [
                    marginRow('Speed loop, suggested', suggested.gains.speed),
                    marginRow('Position loop, suggested', suggested.gains.position),
                  ]
                : []),
            ]}
          />
          {!(planned.speed.isStable && planned.position.isStable) && (
            <Typography variant="body2" color="error">
              By the model the planned gains are unstable: do not write them to the drive.
            </Typography>
          )}
          {suggested && (
            <Typography variant="body2" sx={{ mt: 0.5 }}>
              {`The suggestion is limited by ${suggested.gains.limitedBy}.`}
              {suggested.gains.limitedBy === 'the resonance' &&
                `${withNotch && withNotch.bandwidth > 1.1 * suggested.gains.bandwidth ? ` With a notch at ${number(withNotch.hertz)} Hz the speed loop could have ${number(withNotch.bandwidth)} rad/s.` : ''} A stiffer coupling or a lower inertia ratio (${number(suggested.inertiaRatio)}) does more than any gain.`}
            </Typography>
          )}
          <Typography variant="body2" color="text.secondary" sx={{ mt: 0.5 }}>
            {`Wanted: at least ${wantedMargins.phaseMargin}° and ${wantedMargins.gainMargin} dB, Ms at most ${wantedMargins.peakSensitivity} (common practice); of the suggestion the smallest with inertia and stiffness off by 30 %. Assumed: current loop 0.5 ms, filter 0.3 ms, samples of 0.125 ms, 2 % damping.`}
          </Typography>
        </>
      )}
    </Panel>
  );
}

const marginRow = (label: string, { isStable, phaseMargin, gainMargin, peakSensitivity }: Margins) => ({
  key: label,
  cells: isStable
    ? [label, number(phaseMargin), number(gainMargin), number(peakSensitivity)]
    : [label, 'unstable', '—', '—'],
});
