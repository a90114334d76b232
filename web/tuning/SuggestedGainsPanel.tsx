import { formatNumber } from '@kavrid/core/quantity';
import { wantedMargins, type Margins } from '@kavrid/core/tuning';
import { Box, Button, Typography } from '@mui/material';
import { MeasuredTable } from '../ui/MeasuredTable.tsx';
import type { TuningPlan } from '../jobs/tuningJob.ts';
import { useEdit } from '../member/memberContext.ts';
import { NumberField } from '../member/QuantityField.tsx';
import { useAxis } from '../member/useAxis.ts';
import { Panel } from '../ui/Panel.tsx';

const rounded = (value: number): number => Number(value.toPrecision(3));
const number = (value: number): string => (Number.isFinite(value) ? formatNumber(value, 3) : 'any');

/** Gains that keep their margins with inertia and stiffness off by 30 %, beside what is planned. */
export function SuggestedGainsPanel({ plan }: { readonly plan: TuningPlan | undefined }) {
  const { document } = useAxis();
  const edit = useEdit();
  const { suggested, planned } = plan ?? {};
  const { settings } = document;
  const use = () => {
    if (!suggested) return;
    edit(['settings'], {
      ...settings,
      inertiaRatio: rounded(suggested.inertiaRatio),
      speedBandwidth: rounded(suggested.gains.bandwidth),
      speedIntegralTime: rounded(1000 * suggested.gains.speedIntegralTime),
      positionGain: rounded(suggested.gains.positionGain),
    });
  };
  const shown = (value: number | null) => (value === null ? '—' : number(value));
  return (
    <Panel title="Suggested gains">
      <NumberField label="Bandwidth wanted, speed loop" path={['tuning', 'wantedBandwidth']} rule="bandwidth" />
      {plan?.because !== undefined && <Typography variant="body2">{`None: ${plan.because}.`}</Typography>}
      {plan?.isHopeless && (
        <Typography variant="body2">No gains keep the margins: the resonance is too low for this drive.</Typography>
      )}
      {suggested && (
        <>
          <MeasuredTable
            label="Planned and suggested gains"
            heads={['', 'Planned', 'Suggested']}
            rows={[
              ['Speed loop bandwidth, rad/s', settings.speedBandwidth, suggested.gains.bandwidth],
              ['Integral time, ms', settings.speedIntegralTime, 1000 * suggested.gains.speedIntegralTime],
              ['Position gain, 1/s', settings.positionGain, suggested.gains.positionGain],
              ['Inertia ratio', settings.inertiaRatio, suggested.inertiaRatio],
            ].map(([label, now, next]) => ({
              key: String(label),
              cells: [String(label), shown(now as number | null), number(next as number)],
            }))}
          />
          <Box sx={{ mt: 0.75, display: 'flex', gap: 1, alignItems: 'center' }}>
            <Button variant="contained" onClick={use}>
              Use in the plan
            </Button>
            <Typography variant="body2" color="text.secondary">
              {`Limited by ${suggested.gains.limitedBy}.`}
            </Typography>
          </Box>
          {suggested.gains.limitedBy === 'the resonance' && (
            <Typography variant="body2" sx={{ mt: 0.5 }}>
              {`${plan?.withNotch && plan.withNotch.bandwidth > 1.1 * suggested.gains.bandwidth ? `With a notch of the drive at ${number(plan.withNotch.hertz)} Hz: ${number(plan.withNotch.bandwidth)} rad/s. ` : ''}A stiffer coupling or a lower inertia ratio (${number(suggested.inertiaRatio)}) does more than any gain.`}
            </Typography>
          )}
        </>
      )}
      {planned && (
        <Box sx={{ mt: 1 }}>
          <MeasuredTable
            label="Margins"
            heads={['Margins', 'Phase, °', 'Gain, dB', 'Ms']}
            rows={[
              marginRow('Speed loop, planned', planned.speed),
              marginRow('Position loop, planned', planned.position),
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
          <Typography variant="body2" color="text.secondary" sx={{ mt: 0.5 }}>
            {`Wanted: at least ${wantedMargins.phaseMargin}° and ${wantedMargins.gainMargin} dB, Ms at most ${wantedMargins.peakSensitivity} (common practice); of the suggestion the smallest with inertia and stiffness off by 30 %. Assumed: current loop 0.5 ms, filter 0.3 ms, samples of 0.125 ms, 2 % damping.`}
          </Typography>
        </Box>
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
