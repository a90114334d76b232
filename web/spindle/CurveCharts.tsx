import { valueOf } from '@kavrid/core/sheet';
import { regionAt, voltsAt } from '@kavrid/core/spindle';
import { lazy, Suspense } from 'react';
import { Panel } from '../ui/Panel.tsx';
import { useSpindle } from '../member/useSpindle.ts';
import { Hint } from '../ui/fieldParts.tsx';

const XyChart = lazy(() => import('../ui/chart/XyChart.tsx').then((module) => ({ default: module.XyChart })));
const samples = 120;

/** Volts, torque and power over the speed of the tool, with the regions of constant torque and constant power. */
export function CurveCharts() {
  const { results } = useSpindle().computation;
  const curve = valueOf(results.curve);
  const motor = valueOf(results.motorPoint);
  const [poles, ratio] = [valueOf(results.poles), valueOf(results.ratioNumber)];
  if (!curve || !motor || poles === undefined || ratio === undefined)
    return (
      <Panel title="Voltage, torque and power over speed">
        <Hint>Drawn when nameplate, connection, base and highest frequency have been entered.</Hint>
      </Panel>
    );
  const toSpeed = (hertz: number) => (120 * hertz) / poles / ratio;
  const hertz = Array.from({ length: samples + 1 }, (_, k) => (k * curve.highestHertz) / samples);
  const corners = [...curve.points.map((point) => point.hertz), curve.base.hertz].filter(
    (f) => f <= curve.highestHertz,
  );
  const all = [...hertz, ...corners].sort((a, b) => a - b);
  const top = toSpeed(curve.highestHertz);
  const base = toSpeed(curve.base.hertz);
  const plain = Math.min(motor.hertz, curve.highestHertz);
  const marks = base < top ? [{ at: base, label: 'constant power' }] : [];
  const rated = all.filter((f) => f > 0);
  return (
    <Panel title="Voltage, torque and power over tool speed">
      <Suspense fallback={<div style={{ height: 330 }} />}>
        <XyChart
          label="Voltage over tool speed"
          xUnit="rpm"
          yUnit="V"
          hideX
          height={150}
          xDomain={[0, top]}
          marks={marks}
          series={[
            { name: 'as set', look: 'main', points: all.map((f) => ({ x: toSpeed(f), y: voltsAt(curve, f) })) },
            {
              name: 'as on the nameplate',
              look: 'second',
              isDashed: true,
              points: [
                { x: 0, y: 0 },
                { x: toSpeed(plain), y: (motor.volts * plain) / motor.hertz },
                { x: top, y: Math.min(motor.volts, (motor.volts * curve.highestHertz) / motor.hertz) },
              ],
            },
          ]}
        />
        <XyChart
          label="Torque and power over tool speed"
          xUnit="rpm"
          yUnit="% of rated, with rated current"
          height={170}
          xDomain={[0, top]}
          marks={marks}
          series={[
            {
              name: 'torque',
              look: 'main',
              points: rated.map((f) => ({ x: toSpeed(f), y: 100 * regionAt(curve, motor, f).torque })),
            },
            {
              name: 'power',
              look: 'third',
              points: rated.map((f) => ({ x: toSpeed(f), y: 100 * regionAt(curve, motor, f).power })),
            },
          ]}
        />
      </Suspense>
    </Panel>
  );
}
