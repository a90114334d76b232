import { valueOf } from '@kavrid/core/sheet';
import { busVoltsDuring } from '@kavrid/core/spindle';
import { lazy, Suspense, useDeferredValue } from 'react';
import { Hint } from '../ui/fieldParts.tsx';
import { Panel } from '../ui/Panel.tsx';
import { useSpindle } from '../member/useSpindle.ts';

const XyChart = lazy(() => import('../ui/chart/XyChart.tsx').then((module) => ({ default: module.XyChart })));
const samples = 80;

/** The volts of the DC bus during a stop: without a resistor, and with the one that is fitted. */
export function BusVoltsChart() {
  const { input, results } = useDeferredValue(useSpindle().computation);
  const load = {
    inertia: valueOf(results.totalInertia),
    torque: valueOf(results.frictionTorque),
  };
  const supply = valueOf(results.brakingSupply);
  const [omega, time, chopper] = [
    valueOf(results.topOmega),
    valueOf(results.plannedStop),
    valueOf(results.chopperVolts),
  ];
  const ohms = input.resistor && valueOf(input.resistor.ohms);
  if (load.inertia === undefined || load.torque === undefined || !supply || omega === undefined || time === undefined)
    return (
      <Panel title="DC bus voltage during a stop">
        <Hint>Drawn when inertias, friction, ramp and the drive’s DC bus have been entered.</Hint>
      </Panel>
    );
  const at = { inertia: load.inertia, torque: load.torque };
  const draw = (resistor: { readonly ohms: number; readonly volts: number } | undefined) =>
    busVoltsDuring(at, supply, omega, time, resistor, samples).map(({ time: x, volts: y }) => ({ x, y }));
  const fitted = ohms !== undefined && chopper !== undefined ? draw({ ohms, volts: chopper }) : undefined;
  return (
    <Panel title="DC bus voltage during a stop">
      <Suspense fallback={<div style={{ height: 210 }} />}>
        <XyChart
          label="DC bus voltage during a stop"
          xUnit="s"
          yUnit="V"
          height={190}
          xDomain={[0, time]}
          levels={[{ at: supply.tripVolts, label: `trips at ${supply.tripVolts} V` }]}
          series={[
            { name: 'without a resistor', look: 'second', isDashed: fitted !== undefined, points: draw(undefined) },
            ...(fitted ? [{ name: 'with the resistor', look: 'main' as const, points: fitted }] : []),
          ]}
        />
      </Suspense>
    </Panel>
  );
}
