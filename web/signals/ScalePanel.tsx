import { formatExact, formatNumber, toNumber, type Exact } from '@kavrid/core/quantity';
import { valueOf, type Outcome } from '@kavrid/core/sheet';
import { liveZeroLevels, potentiometerResult } from '@kavrid/core/signal';
import { Box, Typography } from '@mui/material';
import { useAxis } from '../member/useAxis.ts';
import { Hint } from '../ui/fieldParts.tsx';
import { ScaledDriveFields, ScaledFields } from '../chain/fields/ScaledFields.tsx';
import { Panel } from '../ui/Panel.tsx';
import { useShownUnits } from '../ui/units.ts';
import { AxisScale } from '../chain/AxisScale.tsx';
import { FactTable } from '../ui/FactTable.tsx';

import { useScaledCommand } from '../chain/useScaledCommand.ts';

/** Which signal means which value, at both ends, and how fine it is. */
export function ScalePanel() {
  const { typed } = useScaledCommand();
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: '1fr 1fr', alignItems: 'start' }}>
        <Panel title="Controller signal">
          <Box sx={{ display: 'grid', gap: 1.25, pt: 0.5 }}>
            <ScaledFields command={typed} />
          </Box>
        </Panel>
        <Panel title="Drive input">
          <Box sx={{ display: 'grid', gap: 1.25, pt: 0.5 }}>
            <ScaledDriveFields command={typed} />
          </Box>
        </Panel>
      </Box>
      <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: '1fr 1fr', alignItems: 'start' }}>
        <Panel title="Scale">
          <AxisScale />
        </Panel>
        <Panel title="Results">
          <Facts />
        </Panel>
      </Box>
    </Box>
  );
}

function Facts() {
  const { computation } = useAxis();
  const { command } = useScaledCommand();
  const { results } = computation;
  const units = useShownUnits(computation.input);
  const shown = (outcome: Outcome<number | Exact>, template: string) => {
    const value = valueOf(outcome);
    return value === undefined
      ? 'unknown'
      : typeof value === 'number'
        ? units.quantity(value, template)
        : units.shown(1, template) === 1
          ? `${formatExact(value, 6)} ${units.name(template)}`
          : units.quantity(toNumber(value), template);
  };
  const pot = command.potentiometer && valueOf(command.potentiometer);
  const raw = valueOf(results.rawScale);
  const unit = command.range.unit;
  const isLive = unit === 'mA' && toNumber(command.range.lowest) > 0;
  const ends = valueOf(results.coarserEnd);
  return (
    <>
      <FactTable
        label="Scale"
        rows={[
          { what: 'Gain', is: shown(results.signalGain, '{value}/{signal}'), strong: true },
          { what: 'Signal at zero', is: shown(results.signalAtZero, '{signal}') },
          { what: 'At the highest signal', is: shown(results.valueAtFullSignal, '{value}') },
          { what: 'At the lowest signal', is: shown(results.valueAtLeastSignal, '{value}') },
          ...(command.meaning === 'speed'
            ? [{ what: 'Signal at the wanted speed', is: shown(results.signalAtWantedSpeed, '{signal}') }]
            : []),
          { what: 'Controller step', is: shown(results.controllerSignalStep, '{signal}') },
          { what: 'Drive step', is: shown(results.driveSignalStep, '{signal}') },
          {
            what: `Smallest step${ends ? ` (${ends.join(' and ')})` : ''}`,
            is: shown(results.valueStep, '{value}'),
            strong: true,
          },
          ...(command.meaning === 'torque'
            ? []
            : [{ what: 'Smallest step at the load', is: shown(results.loadStep, '{u}{perSecond}') }]),
          ...(command.kind === 'pwm'
            ? [
                { what: 'Update period', is: shown(results.carrierPeriod, 's') },
                {
                  what: `Drive: N / D + offset (${command.meaning === 'position' ? 'counts' : 'rpm'})`,
                  is: raw
                    ? `${raw.numerator} / ${raw.denominator} ${raw.offset < 0n ? '−' : '+'} ${abs(raw.offset)}`
                    : 'unknown',
                  strong: true,
                },
              ]
            : []),
          ...(isLive
            ? [
                {
                  what: 'Signal loss below and above',
                  is: `${liveZeroLevels.failsBelow} mA, ${liveZeroLevels.failsAbove} mA`,
                },
              ]
            : []),
          ...(pot ? potRows(pot) : []),
        ]}
      />
      {isLive && <Hint>NAMUR NE 43: a loop below or above these has failed.</Hint>}
      {command.potentiometer?.state === 'unknown' && (
        <Typography variant="body2" color="text.secondary">
          The potentiometer is not known: {command.potentiometer.because}.
        </Typography>
      )}
    </>
  );
}

const abs = (value: bigint) => (value < 0n ? -value : value);

function potRows(pot: Parameters<typeof potentiometerResult>[0]) {
  const { current, isTooMuch, worstSag, sagAt, effectiveTurn } = potentiometerResult(pot);
  return [
    { what: 'Current from the reference', is: `${formatNumber(1000 * current, 3)} mA`, isWrong: isTooMuch },
    {
      what: `Largest error, at ${formatNumber(100 * sagAt, 2)} % of the turn`,
      is: `${formatNumber(worstSag, 3)} V`,
    },
    { what: 'Effective part of the turn', is: `${formatNumber(100 * effectiveTurn, 3)} %` },
  ];
}
