import { formatNumber, parseRational, rationalToNumber } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';
import { corrected, tachometer, type TachometerResult } from '@kavrid/core/spindle';
import { Alert, Box, Button, Typography } from '@mui/material';
import { Column, Hint } from '../ui/fieldParts.tsx';
import { acceptMeasured } from '../measure/acceptMeasured.ts';
import { PointsTable } from '../member/PointsTable.tsx';
import { ResidualPicture } from '../measure/ResidualPicture.tsx';
import { FactTable } from '../ui/FactTable.tsx';
import { useAppDispatch } from '../store/store.ts';
import { Panel } from '../ui/Panel.tsx';
import { ExactField } from '../member/QuantityField.tsx';
import { useSpindle } from '../member/useSpindle.ts';

/** Commanded speeds against those of a tachometer: the true scale, its linearity, and whether to correct it. */
export function TachometerView() {
  const { document, computation } = useSpindle();
  const { points } = document.tachometer;
  const result = tachometer(computation.input.tachometer);
  return (
    <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: 'minmax(0, 1fr) minmax(0, 1fr)', alignItems: 'start' }}>
      <Panel title="Commanded against measured">
        <Column>
          <Hint>
            Command speeds over the whole range and read a tachometer at the tool once the speed has settled. Without
            load the slip is small; with load it is part of the measurement.
          </Hint>
          <ExactField
            label="Correction in force"
            path={['tachometer', 'correction']}
            rule="speedCorrection"
            help="true speed over the speed from nameplate and belt; empty: no correction"
          />
          <PointsTable
            label="Measured speeds"
            path={['tachometer', 'points']}
            rows={points}
            most={200}
            columns={[
              { field: 'commanded', title: 'Commanded', rule: 'motorSpeed' },
              { field: 'measured', title: 'Measured', rule: 'motorSpeed' },
            ]}
            blank={{ commanded: null, measured: null }}
          />
        </Column>
      </Panel>
      <Panel title="Speed check">
        {result.state === 'unknown' ? <Hint>No result yet: {result.because}.</Hint> : <Found result={result.value} />}
      </Panel>
    </Box>
  );
}

function Found({ result }: { readonly result: TachometerResult }) {
  const { memberId, document, computation } = useSpindle();
  const dispatch = useAppDispatch();
  const { correction } = document.tachometer;
  const read = correction.trim() === '' ? undefined : parseRational(correction.trim());
  const now = read ? rationalToNumber(read) : 1;
  const next = Number((now * result.scale).toPrecision(6));
  const fullSpeed = valueOf(computation.results.toolSpeedAtFullSignal);
  const { input } = computation;
  const points = input.tachometer.map(({ commanded }, k) => ({
    x: commanded,
    residual: result.line.residuals[k] ?? 0,
  }));
  const accept = () =>
    void dispatch(
      acceptMeasured(
        memberId,
        [{ path: ['tachometer', 'correction'], value: String(next) }],
        `speed corrected to ${next} by ${points.length} speeds`,
      ),
    );
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <FactTable
        label="Tachometer"
        rows={[
          {
            what: 'Measured over commanded',
            is: `${formatNumber(result.scale, 6)} ± ${formatNumber(result.uncertainty, 2)}`,
            strong: true,
          },
          { what: 'At zero command', is: `${formatNumber(result.offset, 3)} rpm` },
          { what: 'Farthest from a straight line', is: `${formatNumber(100 * result.linearity, 2)} % of the highest` },
          { what: 'Correction in force', is: formatNumber(now, 6) },
          { what: 'New correction', is: formatNumber(next, 6), strong: result.isWorthCorrecting },
          ...(fullSpeed !== undefined && input.command.kind === 'signal'
            ? [
                {
                  what: 'Or at the controller: speed at full signal',
                  is: `${formatNumber(corrected(fullSpeed, { scale: 1 / result.scale }), 6)} rpm`,
                },
              ]
            : []),
        ]}
      />
      <Typography variant="h3">Deviation from the line</Typography>
      <ResidualPicture points={points} xUnit="rpm" unit="rpm" />
      {result.isWorthCorrecting ? (
        <>
          <Hint>
            Accepting it changes the controller’s ratio and every speed here; measure again afterwards. It is saved as a
            separate revision.
          </Hint>
          <Button variant="contained" onClick={accept}>
            Take over {formatNumber(next, 6)}
          </Button>
        </>
      ) : (
        <Alert severity="info">
          The scale is right within the uncertainty of these speeds; no correction is needed.
        </Alert>
      )}
    </Box>
  );
}
