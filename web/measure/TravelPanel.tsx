import { stageRatiosOf } from '@kavrid/contract';
import { factorsOf, measuredTravel, type MeasuredTravel, type TravelPoint } from '@kavrid/core/measure';
import { formatNumber, parseRational, rationalToNumber, toNumber } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';
import { Alert, Box, Button, Typography } from '@mui/material';
import { useAxis } from '../member/useAxis.ts';
import { useEdit } from '../member/memberContext.ts';
import { Hint } from '../ui/fieldParts.tsx';
import { FactTable } from '../ui/FactTable.tsx';
import { useAppDispatch } from '../store/store.ts';
import { Panel } from '../ui/Panel.tsx';
import { ExactField, NumberField } from '../member/QuantityField.tsx';
import { useShownUnits, type ShownUnits } from '../ui/units.ts';
import { PointsTable } from '../member/PointsTable.tsx';
import { ResidualPicture } from './ResidualPicture.tsx';
import { acceptMeasured } from './acceptMeasured.ts';

const correctionOf = (text: string) => {
  const read = text.trim() === '' ? undefined : parseRational(text.trim());
  return read ? rationalToNumber(read) : 1;
};

/** Travel against command, at one point or many, both ways: the true scale, backlash, and whether to correct it. */
export function TravelPanel() {
  const { document, computation } = useAxis();
  const { input } = computation;
  const { travel, gauge, measuredWith } = document.measured;
  const units = useShownUnits(input);
  const points = travel.flatMap(({ commanded, measured, going }): readonly TravelPoint[] =>
    commanded === null || measured === null ? [] : [{ commanded, measured, going }],
  );
  const result = measuredTravel(points, gauge ?? 0, factorsOf(stageRatiosOf(input)));
  return (
    <Panel title="Travel against command">
      <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: 'minmax(0, 6fr) minmax(0, 5fr)', alignItems: 'start' }}>
        <Box sx={{ display: 'grid', gap: 1.25, pt: 0.5 }}>
          <Hint>
            Move to a position, note the direction of approach, and read a gauge that does not move with the axis.
            Approaching from both directions shows the backlash.
          </Hint>
          <ExactField
            label="Correction in force"
            path={['measured', 'travelCorrection']}
            rule="travelCorrection"
            help="true travel over nameplate travel; empty: no correction"
          />
          <NumberField
            label="Gauge uncertainty"
            path={['measured', 'gauge']}
            rule="backlashTravel"
            help="plus or minus; empty: only the scatter of the points counts"
          />
          <PointsTable
            label="Measured travel"
            path={['measured', 'travel']}
            rows={travel}
            columns={[
              { field: 'commanded', title: 'Commanded', rule: 'position' },
              { field: 'measured', title: 'Measured', rule: 'position' },
              {
                field: 'going',
                title: 'Going',
                choices: [
                  { value: 'plus', label: 'plus' },
                  { value: 'minus', label: 'minus' },
                ],
              },
            ]}
            blank={{ commanded: null, measured: null, going: 'plus' }}
          />
        </Box>
        {result.state === 'unknown' ? (
          <Hint>No result yet: {result.because}.</Hint>
        ) : (
          <TravelResult
            result={result.value}
            points={points}
            units={units}
            before={correctionOf(measuredWith)}
            now={correctionOf(document.measured.travelCorrection)}
          />
        )}
      </Box>
    </Panel>
  );
}

function TravelResult(props: {
  readonly result: MeasuredTravel;
  readonly points: readonly TravelPoint[];
  readonly units: ShownUnits;
  /** The correction with which the points were measured, and the one in force. */
  readonly before: number;
  readonly now: number;
}) {
  const { result, points, units, before, now } = props;
  const { memberId, computation } = useAxis();
  const edit = useEdit();
  const dispatch = useAppDispatch();
  const { scale, uncertainty, offset, backlash, line, verdict } = result;
  const { results } = computation;
  const [steps, ratio] = [valueOf(results.stepsPerUnit), valueOf(results.wantedRatio)];
  // What the points say stands for the correction they were measured with.
  const corrected = Number((before * scale).toPrecision(9));
  const isTaken = Math.abs(corrected / now - 1) < 1e-9;
  // The plates already carry the correction in force.
  const change = corrected / now;
  const take = () =>
    void dispatch(
      acceptMeasured(
        memberId,
        [{ path: ['measured', 'travelCorrection'], value: String(corrected) }],
        `Travel by measurement: × ${corrected} ± ${formatNumber(uncertainty, 2)}, ${points.length} points`,
      ),
    );
  const begin = () => {
    edit(['measured', 'measuredWith'], String(now));
    edit(['measured', 'travel'], []);
  };
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <FactTable
        label="Measured travel in numbers"
        rows={[
          { what: 'Measured over commanded', is: formatNumber(scale, 7), strong: true },
          {
            what: 'Uncertainty (95 %)',
            is: Number.isFinite(uncertainty) ? `± ${formatNumber(uncertainty, 2)}` : 'unknown',
          },
          { what: 'Off by', is: `${formatNumber((scale - 1) * 1e6, 4)} ppm` },
          { what: 'Offset', is: units.quantity(offset, '{u}') },
          { what: 'Backlash', is: backlash === undefined ? 'one direction only' : units.quantity(backlash, '{u}') },
          {
            what: 'Farthest from the line',
            is: units.quantity(Math.max(...line.residuals.map(Math.abs)), '{u}'),
          },
          ...(steps
            ? [
                {
                  what: `Steps per ${computation.input.axisUnit}`,
                  is: `${formatNumber(toNumber(steps), 7)} → ${formatNumber(toNumber(steps) / change, 7)}`,
                  strong: true,
                },
              ]
            : []),
          ...(ratio
            ? [
                {
                  what: 'Gear ratio wanted',
                  is: `${formatNumber(toNumber(ratio), 7)} → ${formatNumber(toNumber(ratio) / change, 7)}`,
                },
              ]
            : []),
        ]}
      />
      <ResidualPicture
        points={points.map(({ commanded, going }, k) => ({
          x: units.shown(commanded, '{u}'),
          residual: units.shown(line.residuals[k] ?? 0, '{u}'),
          group: going,
        }))}
        xUnit={units.unit}
        unit={units.unit}
      />
      <Typography variant="body2" color="text.secondary">
        Round: approached in the plus direction, square: in the minus direction. A curved or wavy pattern is not a scale
        error and remains.
      </Typography>
      <Verdict verdict={verdict} isTaken={isTaken} />
      <Box sx={{ display: 'flex', gap: 1 }}>
        <Button variant="contained" disabled={verdict.kind !== 'correct' || isTaken} onClick={take}>
          Take × {corrected}
        </Button>
        {backlash !== undefined && backlash > 0 && (
          <TakeBacklash backlash={backlash} points={points.length} units={units} />
        )}
        <Button variant="outlined" onClick={begin}>
          Start a new series
        </Button>
      </Box>
    </Box>
  );
}

/** Puts the measured backlash into the last stage, less what the others are said to have. */
function TakeBacklash(props: { readonly backlash: number; readonly points: number; readonly units: ShownUnits }) {
  const { backlash, points, units } = props;
  const { memberId, document, computation } = useAxis();
  const dispatch = useAppDispatch();
  const index = document.stages.length - 1;
  const last = document.stages[index];
  const whole = valueOf(computation.results.backlash);
  if (!last || last.backlash === null || whole === undefined) return null;
  // A shaft has its backlash in degrees, also on an axis in revolutions.
  const perUnit = computation.input.axisUnit === 'rev' ? 360 : 1;
  const value = Math.max(0, last.backlash + (backlash - whole) * perUnit);
  const isTaken = Math.abs(value - last.backlash) < 1e-9;
  const take = () =>
    void dispatch(
      acceptMeasured(
        memberId,
        [{ path: ['stages', index, 'backlash'], value: Number(value.toPrecision(6)) }],
        `Backlash by measurement: ${units.quantity(backlash, '{u}')}, ${points} points`,
      ),
    );
  return (
    <Button variant="outlined" disabled={isTaken} onClick={take}>
      Take {units.quantity(backlash, '{u}')} as backlash
    </Button>
  );
}

function Verdict({ verdict, isTaken }: { readonly verdict: MeasuredTravel['verdict']; readonly isTaken: boolean }) {
  if (isTaken)
    return <Alert severity="info">Accepted: the nameplate values and this correction together give the travel.</Alert>;
  switch (verdict.kind) {
    case 'correct':
      return <Alert severity="info">Worth correcting: {verdict.because}.</Alert>;
    case 'within noise':
      return <Alert severity="info">No correction: {verdict.because}.</Alert>;
    case 'known factor':
      return (
        <Alert severity="error">
          No correction: it is off by a factor of {formatNumber(verdict.factor.factor, 4)}.{' '}
          {capital(verdict.factor.cause)}.
        </Alert>
      );
    case 'too far off':
      return <Alert severity="error">No correction: {verdict.because}.</Alert>;
  }
}

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
