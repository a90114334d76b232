import { toNumber } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';
import { Box, Typography } from '@mui/material';
import { useState } from 'react';
import { useBenchState } from '../bench/useBench.ts';
import { useAxis } from '../member/useAxis.ts';
import { useAxisLive } from '../member/useLive.ts';
import { FactTable } from '../ui/FactTable.tsx';
import { NumberInput } from '../ui/NumberInput.tsx';
import { Panel } from '../ui/Panel.tsx';
import { useShownUnits } from '../ui/units.ts';

/** The position by the drive and by the controller, and what their difference makes of the soft limits of the drive. */
export function TwoZeros() {
  const { document, computation } = useAxis();
  const units = useShownUnits(computation.input);
  const [typed, setTyped] = useState<number | null>(null);
  const { position, isHomed } = useAxisLive((live) => ({ position: live?.position, isHomed: live?.homed === true }));
  const steps = useBenchState()?.host?.controls.find(({ id }) => id === 'hostPosition')?.value;
  const stepsPerUnit = valueOf(computation.results.stepsPerUnit);
  const read = steps !== undefined && stepsPerUnit ? steps / toNumber(stepsPerUnit) : undefined;
  const controller = read ?? typed ?? undefined;
  const { minusSoftLimit: minus, plusSoftLimit: plus } = document.settings;
  const difference = position === undefined || controller === undefined ? undefined : position - controller;
  const name = (value: number) => units.quantity(value, '{u}');
  const asController = (limit: number | null) =>
    limit === null || difference === undefined ? 'not planned' : name(limit - difference);
  return (
    <Panel title="Two zeros">
      <FactTable
        label="Two zeros"
        rows={[
          {
            what: 'Drive reads',
            is: position === undefined ? 'not connected' : `${name(position)}${isHomed ? '' : ', not homed'}`,
          },
          { what: 'Controller reads', is: controller === undefined ? 'not known' : name(controller) },
          ...(difference === undefined ? [] : [{ what: 'Drive less controller', is: name(difference), strong: true }]),
          ...(isHomed && difference !== undefined && (minus !== null || plus !== null)
            ? [
                { what: 'Minus soft limit of the drive, at the controller', is: asController(minus) },
                { what: 'Plus soft limit of the drive, at the controller', is: asController(plus) },
              ]
            : []),
        ]}
      />
      {read === undefined && (
        <Box sx={{ mt: 1, maxWidth: 220 }}>
          <NumberInput
            label="What the controller reads now"
            rule="position"
            axisUnit={computation.input.axisUnit}
            shownIn={units.unit === 'in' ? { unit: 'in', of: units.shown(1, '{u}') } : undefined}
            value={typed}
            onValue={setTyped}
          />
        </Box>
      )}
      <Typography variant="body2" color="text.secondary" sx={{ mt: 0.75 }}>
        {meaning(difference, isHomed, document.homing.by, minus !== null || plus !== null)}
      </Typography>
    </Panel>
  );
}

function meaning(
  difference: number | undefined,
  isHomed: boolean,
  by: 'drive' | 'controller',
  hasLimits: boolean,
): string {
  if (difference === undefined)
    return 'Drive and controller each have a zero of their own: homing one does not set the other.';
  if (!isHomed)
    return by === 'controller'
      ? 'The controller homes this axis, and the drive is not homed: soft limits in the drive do not count, so plan them in the controller.'
      : 'The drive is not homed: its soft limits do not count, and the difference changes when it homes.';
  return hasLimits
    ? 'A move of the controller is stopped by the drive where the controller reads the values above.'
    : 'No soft limits are planned in the drive: the difference matters to nothing but its own moves.';
}
