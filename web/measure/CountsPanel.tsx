import { factorsOf, measuredCounts, type StandardEncoder } from '@kavrid/core/measure';
import { formatNumber, toNumber } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';
import { ruleFor, stageRatiosOf } from '@kavrid/contract';
import { parseQuantity } from '@kavrid/core/quantity';
import { Alert, Box, Button } from '@mui/material';
import { useAxis } from '../member/useAxis.ts';
import { useEdit } from '../member/memberContext.ts';
import { Hint, Pair } from '../ui/fieldParts.tsx';
import { FactTable } from '../ui/FactTable.tsx';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { Panel } from '../ui/Panel.tsx';
import { ExactField } from '../member/QuantityField.tsx';
import { useKept } from '../ui/useKept.ts';
import { acceptMeasured } from './acceptMeasured.ts';

/** Counts per revolution by turning the shaft by hand: what encoder it must be, and whether the plate is right. */
export function CountsPanel() {
  const { memberId, document, computation } = useAxis();
  const { input, results } = computation;
  const dispatch = useAppDispatch();
  if (input.motorForm === 'linear')
    return (
      <Panel title="Turn the shaft by hand">
        <Hint>A linear motor has no shaft to turn: measure the travel instead.</Hint>
      </Panel>
    );
  const read = (text: string, rule: 'turns' | 'countedCounts') => {
    const parsed = parseQuantity(text, ruleFor(rule, input.axisUnit));
    return parsed.kind === 'value' ? toNumber(parsed.value) : undefined;
  };
  const [turns, counts] = [read(document.measured.turns, 'turns'), read(document.measured.counts, 'countedCounts')];
  const plate = valueOf(results.countsPerRevolution);
  const measured =
    turns === undefined || counts === undefined
      ? undefined
      : measuredCounts(turns, counts, plate && toNumber(plate), factorsOf(stageRatiosOf(input)));
  return (
    <Panel title="Turn the shaft by hand">
      <Box sx={{ display: 'grid', gap: 1.25, pt: 0.5 }}>
        <Hint>
          Switch the motor off and mark the shaft. Turn it by whole turns and read how much the counts have changed.
        </Hint>
        <Pair>
          <ExactField label="Turns" path={['measured', 'turns']} rule="turns" help="five are better than one" />
          <ExactField label="Counts changed by" path={['measured', 'counts']} rule="countedCounts" />
        </Pair>
        <FromDrive />
        {measured === undefined ? (
          <Hint>Enter both: the turns, and how much the counts changed.</Hint>
        ) : measured.state === 'unknown' ? (
          <Alert severity="warning">Not known: {measured.because}.</Alert>
        ) : (
          <>
            <FactTable
              label="Counts per revolution"
              rows={[
                {
                  what: 'Counts per revolution',
                  is: formatNumber(measured.value.countsPerRevolution, 7),
                  strong: true,
                },
                {
                  what: 'Encoder',
                  is: measured.value.nearest.map(({ name }) => name).join(' or ') || 'no standard encoder fits',
                  strong: true,
                },
                ...(measured.value.off === undefined || measured.value.missedBy === undefined
                  ? []
                  : [
                      { what: 'Difference', is: `${formatNumber(measured.value.off, 4)} ppm` },
                      { what: 'Distance from the mark', is: `${formatNumber(measured.value.missedBy, 3)}°` },
                    ]),
                { what: 'Counts change', is: measured.value.direction },
                { what: 'Nameplate', is: plate ? formatNumber(toNumber(plate), 8) : 'unknown' },
              ]}
            />
            {measured.value.agreesWithPlate === true && (
              <Alert severity="success">The nameplate value is right, as far as turning by hand can tell.</Alert>
            )}
            {measured.value.factor && (
              <Alert severity="warning">
                It is {formatNumber(measured.value.factor.factor, 4)} times the nameplate value:{' '}
                {measured.value.factor.cause}.
              </Alert>
            )}
            {measured.value.agreesWithPlate !== true &&
              measured.value.nearest.map((encoder) => (
                <Button
                  key={encoder.name}
                  variant="outlined"
                  onClick={() =>
                    void dispatch(
                      acceptMeasured(
                        memberId,
                        [{ path: ['motor', 'encoder'], value: encoderOf(encoder) }],
                        `Encoder by measurement: ${encoder.name}, ${formatNumber(counts ?? 0)} counts in ${formatNumber(turns ?? 0)} turns`,
                      ),
                    )
                  }
                >
                  Take {encoder.name} as the encoder
                </Button>
              ))}
          </>
        )}
      </Box>
    </Panel>
  );
}

const encoderOf = ({ name }: StandardEncoder) => {
  const [number = '', kind] = name.split(' ');
  return kind === 'bits' ? { kind, bits: number } : { kind: 'lines', lines: number };
};

/** The counts as the linked drive has them, taken before and after. */
function FromDrive() {
  const { memberId, computation } = useAxis();
  const edit = useEdit();
  const position = useAppSelector((state) =>
    state.live.live?.memberId === memberId && state.live.live.link === 'up' ? state.live.live.position : undefined,
  );
  // Kept while the shaft is turned, whatever else is looked at meanwhile.
  const [began, setBegan] = useKept<number | null>(`counts.${memberId}`, null);
  const resolution = valueOf(computation.results.feedbackResolution);
  if (position === undefined || !resolution) return null;
  const changed = began === null ? undefined : Math.round((position - began) / toNumber(resolution));
  return (
    <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
      <Button variant="outlined" onClick={() => setBegan(position)}>
        Begin here
      </Button>
      <Button
        variant="outlined"
        disabled={changed === undefined}
        onClick={() => edit(['measured', 'counts'], String(changed))}
      >
        Take {changed === undefined ? 'the counts' : `${formatNumber(changed)} counts`}
      </Button>
    </Box>
  );
}
