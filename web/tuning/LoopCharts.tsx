import { Box, Typography, useTheme } from '@mui/material';
import { useMemo } from 'react';
import { drawnHertz, stepSeconds, type LoopCurves, type TuningPlan } from '../jobs/tuningJob.ts';
import { CurveChart } from '../ui/chart/CurveChart.tsx';
import type { Curve } from '../ui/chart/curve.ts';
import { Panel } from '../ui/Panel.tsx';

const charts: readonly {
  readonly key: keyof LoopCurves;
  readonly title: string;
  readonly yRange: readonly [number, number];
}[] = [
  { key: 'openGain', title: 'Open speed loop: gain, dB', yRange: [-40, 40] },
  { key: 'openPhase', title: 'Open speed loop: phase, °', yRange: [-360, 180] },
  { key: 'closedGain', title: 'Closed position loop: gain, dB', yRange: [-40, 10] },
  { key: 'step', title: 'Position after a small step', yRange: [0, 1.6] },
];

/** The loops as planned and as suggested. */
export function LoopCharts({ plan }: { readonly plan: TuningPlan | undefined }) {
  const { palette } = useTheme();
  const curves = useMemo(
    () =>
      charts.map(({ key }): readonly Curve[] => [
        ...(plan?.suggested
          ? [{ points: plan.suggested.curves[key], colour: palette.warning.main, isDashed: true }]
          : []),
        ...(plan?.trial ? [{ points: plan.trial.curves[key], colour: palette.text.secondary }] : []),
        ...(plan?.planned ? [{ points: plan.planned.curves[key], colour: palette.primary.main }] : []),
      ]),
    [plan, palette],
  );
  if (!plan?.planned)
    return (
      <Panel title="Loops">
        <Typography>{plan?.because ? `There is no model: ${plan.because}.` : 'Computing …'}</Typography>
      </Panel>
    );
  const decades = [Math.log10(drawnHertz[0]), Math.log10(drawnHertz[1])] as const;
  return (
    <Panel
      title="Loops by the model"
      aside={
        <Typography variant="body2" color="text.secondary">
          {plan.trial ? 'petrol: planned; grey: trial; dashed: suggested' : 'full line: planned; dashed: suggested'}
        </Typography>
      }
    >
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1 }}>
        {charts.map(({ key, title, yRange }, k) => (
          <Box key={key} sx={{ minWidth: 0 }}>
            <Typography variant="body2" sx={{ fontSize: 12 }}>
              {title}
            </Typography>
            <CurveChart
              label={title}
              curves={curves[k] ?? []}
              height={150}
              xRange={key === 'step' ? [0, stepSeconds] : decades}
              yRange={yRange}
              xUnit={key === 'step' ? 's' : 'Hz'}
              isLogarithmic={key !== 'step'}
            />
          </Box>
        ))}
      </Box>
    </Panel>
  );
}
