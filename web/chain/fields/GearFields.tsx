import { gearForPulses, gearSetResults, type GearSetResult } from '@kavrid/core/chain';
import {
  divide,
  exact,
  exactToText,
  formatNumber,
  parseQuantity,
  toNumber,
  toRational,
  type Exact,
} from '@kavrid/core/quantity';
import { valueOf, type Outcome } from '@kavrid/core/sheet';
import { Box, Button, TextField } from '@mui/material';
import { useState } from 'react';
import { useAxis } from '../../member/useAxis.ts';
import { useEdit } from '../../member/memberContext.ts';
import { numberFace } from '../../ui/theme.ts';
import { ChoiceField } from '../../ui/ChoiceField.tsx';
import { DocumentChoice } from '../../member/DocumentChoice.tsx';
import { ExactField, NumberField } from '../../member/QuantityField.tsx';
import { useShownUnits } from '../../ui/units.ts';
import { Between, Hint, Pair } from '../../ui/fieldParts.tsx';
import { Toggle } from '../../member/Toggle.tsx';
import { TextLine } from '../../member/TextLine.tsx';

/** In which form the drive takes its ratio, and how fast its pulse inputs are. */
export function PulseInputFields() {
  const { document } = useAxis();
  const { drive } = document;
  return (
    <>
      <DocumentChoice
        label="Ratio format"
        value={drive.ratioForm}
        path={['drive', 'ratioForm']}
        choices={(['numerator and denominator', 'pulses per revolution', 'switch table', 'multiplier'] as const).map(
          (value) => ({ value, label: value }),
        )}
      />
      {drive.ratioForm !== 'switch table' && drive.ratioForm !== 'pulses per revolution' && (
        <Toggle
          label="Manual defines counts = pulses × D / N"
          path={['drive', 'ratioInverted']}
          value={drive.ratioInverted}
        />
      )}
      <Pair>
        {drive.ratioForm === 'numerator and denominator' && (
          <>
            <ExactField label="Largest N" path={['drive', 'numeratorMax']} rule="gearRegister" />
            <ExactField label="Largest D" path={['drive', 'denominatorMax']} rule="gearRegister" />
          </>
        )}
        {drive.ratioForm !== 'switch table' && (
          <>
            <ExactField label="Smallest N/D" path={['drive', 'ratioMin']} rule="ratioBound" />
            <ExactField label="Largest N/D" path={['drive', 'ratioMax']} rule="ratioBound" />
          </>
        )}
        <NumberField label="Differential input" path={['drive', 'differentialRate']} rule="pulseRate" />
        <NumberField label="Single-ended input" path={['drive', 'singleEndedRate']} rule="pulseRate" />
        <NumberField label="Switchable ratios" path={['drive', 'gearSets']} rule="gearSets" />
      </Pair>
    </>
  );
}

/** N and D, or what the drive takes instead of them. */
export function GearFields() {
  const { document, computation } = useAxis();
  const edit = useEdit();
  const { input, results } = computation;
  const counts = valueOf(results.countsPerRevolution);
  const setGear = (numerator: bigint, denominator: bigint) =>
    edit(['gear'], { ...document.gear, numerator: String(numerator), denominator: String(denominator) });
  const setPulses = (pulses: Exact) => {
    if (!counts) return;
    const ratio = gearForPulses(counts, pulses);
    setGear(ratio.numerator, ratio.denominator);
  };
  const pulses = valueOf(results.pulsesPerRevolution);
  const ratio = valueOf(results.countsPerPulse);
  const turn = input.motorForm === 'linear' ? 'mm' : 'revolution';
  switch (document.drive.ratioForm) {
    case 'numerator and denominator':
      return (
        <>
          <Pair>
            <ExactField label="Gear numerator N" path={['gear', 'numerator']} rule="gearRegister" />
            <ExactField label="Gear denominator D" path={['gear', 'denominator']} rule="gearRegister" />
          </Pair>
          <Hint>
            Counts = pulses × N / D
            {document.drive.ratioInverted && '; the drive’s own numerator is D, its denominator N.'}
          </Hint>
        </>
      );
    case 'pulses per revolution':
      return (
        <WholeField
          label={`Pulses per ${turn}`}
          now={pulses}
          help={counts ? `a ${turn} has ${exactToText(counts)} counts` : 'the counts of the encoder come first'}
          onValue={setPulses}
        />
      );
    case 'switch table': {
      const rows = input.switchTable.flatMap((row) => {
        const value = valueOf(row.pulses);
        return value ? [{ switches: row.switches, pulses: value }] : [];
      });
      const now = rows.find((row) => pulses && exactToText(row.pulses) === exactToText(pulses));
      return (
        <ChoiceField
          field="/gear"
          label="Switches"
          value={now?.switches ?? ''}
          onChange={(switches) => {
            const row = rows.find((each) => each.switches === switches);
            if (row) setPulses(row.pulses);
          }}
          choices={[
            ...(now ? [] : [{ value: '', label: pulses ? `none gives ${exactToText(pulses)}` : 'unknown' }]),
            ...rows.map((row) => ({ value: row.switches, label: `${row.switches}: ${exactToText(row.pulses)}` })),
          ]}
          help={`pulses per ${turn}, by position of the switches`}
        />
      );
    }
    case 'multiplier':
      return (
        <WholeField
          label={document.drive.ratioInverted ? 'Pulses per count' : 'Counts per pulse'}
          now={ratio && (document.drive.ratioInverted ? divide(exact(1), ratio) : ratio)}
          help="a whole number"
          onValue={(multiplier) => {
            const { numerator, denominator } = toRational(multiplier);
            if (document.drive.ratioInverted) setGear(denominator, numerator);
            else setGear(numerator, denominator);
          }}
        />
      );
  }
}

/** A positive whole number that sets the gear; the typed text stays until the field is left. */
function WholeField(props: {
  readonly label: string;
  readonly now: Exact | undefined;
  readonly help: string;
  readonly onValue: (value: Exact) => void;
}) {
  const { label, now, help, onValue } = props;
  const [typed, setTyped] = useState<string>();
  const rule = { unit: '', whole: true, atLeast: exact(1) };
  const parsed = typed === undefined ? undefined : parseQuantity(typed, rule);
  return (
    <TextField
      label={label}
      value={typed ?? (now ? exactToText(now) : '')}
      error={parsed?.kind === 'error'}
      helperText={parsed?.kind === 'error' ? parsed.message : help}
      onChange={({ target: { value } }) => {
        setTyped(value);
        const read = parseQuantity(value, rule);
        if (read.kind === 'value') onValue(read.value);
      }}
      onBlur={() => setTyped(undefined)}
      slotProps={{ htmlInput: { autoComplete: 'off', spellCheck: false } }}
      sx={{ '& input': { fontFamily: numberFace } }}
    />
  );
}

/** Further ratios that the drive's inputs switch to. */
export function GearSets() {
  const { document, computation } = useAxis();
  const edit = useEdit();
  const { sets, switchedInMotion } = document.gear;
  const outcomes = gearSetResults(computation.input, computation.results);
  if (sets.length === 0 && (document.drive.gearSets ?? 1) < 2) return null;
  return (
    <>
      <Between>Additional ratios, switched by inputs</Between>
      {sets.map((set, index) => (
        <Pair key={index}>
          <Box sx={{ gridColumn: '1 / -1' }}>
            <TextLine label={`Ratio ${index + 2} is for`} path={['gear', 'sets', index, 'name']} value={set.name} />
          </Box>
          <ExactField
            label={`N of ratio ${index + 2}`}
            path={['gear', 'sets', index, 'numerator']}
            rule="gearRegister"
          />
          <ExactField
            label={`D of ratio ${index + 2}`}
            path={['gear', 'sets', index, 'denominator']}
            rule="gearRegister"
          />
          <SetResult outcome={outcomes[index]} />
          <Button
            color="error"
            aria-label={`Remove ratio ${index + 2}`}
            onClick={() =>
              edit(
                ['gear', 'sets'],
                sets.filter((_, k) => k !== index),
              )
            }
          >
            Remove
          </Button>
        </Pair>
      ))}
      <Button onClick={() => edit(['gear', 'sets'], [...sets, { name: '', numerator: '1', denominator: '1' }])}>
        Add a ratio
      </Button>
      {sets.length > 0 && (
        <Toggle label="Ratio switched while moving" path={['gear', 'switchedInMotion']} value={switchedInMotion} />
      )}
    </>
  );
}

/** What a pulse is with a further ratio. */
function SetResult({ outcome }: { readonly outcome: Outcome<GearSetResult> | undefined }) {
  const { computation } = useAxis();
  const units = useShownUnits(computation.input);
  if (outcome?.state !== 'known') return null;
  const { resolution, stepsPerUnit, timesAsFar } = outcome.value;
  return (
    <Box sx={{ gridColumn: '1 / -1' }}>
      <Hint>
        A pulse is {units.quantity(toNumber(resolution), '{u}')}, {formatNumber(toNumber(timesAsFar), 5)} times as far;{' '}
        {units.quantity(toNumber(stepsPerUnit), 'pulses/{u}')}.
      </Hint>
    </Box>
  );
}
