import { signalRuleOf, valueRuleOf, type ScaledCommandDocument } from '@kavrid/contract';
import { exactToText } from '@kavrid/core/quantity';
import { analogRanges, rangeOf, type AnalogRange } from '@kavrid/core/signal';
import { useAxis } from '../../member/useAxis.ts';
import { useEdit } from '../../member/memberContext.ts';
import { ChoiceField } from '../../ui/ChoiceField.tsx';
import { DocumentChoice } from '../../member/DocumentChoice.tsx';
import { ExactField, NumberField } from '../../member/QuantityField.tsx';
import { Between, Hint, Pair } from '../../ui/fieldParts.tsx';
import { Toggle } from '../../member/Toggle.tsx';
import { TextLine } from '../../member/TextLine.tsx';

const meanings = [
  { value: 'speed' as const, label: 'a speed' },
  { value: 'torque' as const, label: 'a torque' },
  { value: 'position' as const, label: 'a position' },
];

const ranges = analogRanges.map((value) => ({ value, label: value }));

/** What an analog signal or a duty cycle means, and how fine the controller makes it. */
export function ScaledFields({ command }: { readonly command: ScaledCommandDocument }) {
  const edit = useEdit();
  return (
    <>
      <Pair>
        <ChoiceField
          field="/command/meaning"
          label="Commanded quantity"
          value={command.meaning}
          choices={command.kind === 'pwm' ? meanings.filter(({ value }) => value !== 'torque') : meanings}
          onChange={(meaning) => edit(['command'], withMeaning(command, meaning))}
        />
        {command.kind === 'analog' ? (
          <ChoiceField
            field="/command/range"
            label="Range"
            value={command.range}
            choices={ranges}
            onChange={(range) => edit(['command'], withRange(command, range))}
          />
        ) : (
          <DocumentChoice
            label="Directions"
            value={command.directions}
            choices={[
              { value: 'one', label: 'one' },
              { value: 'both', label: 'both' },
            ]}
            path={['command', 'directions']}
          />
        )}
      </Pair>
      <TwoPoints command={command} />
      {command.kind === 'analog' ? (
        command.range === 'potentiometer' ? (
          <PotentiometerFields />
        ) : (
          <NumberField
            label="Controller output resolution, bits"
            path={['command', 'controllerBits']}
            rule="converterBits"
          />
        )
      ) : (
        <Pair>
          <NumberField label="Carrier frequency" path={['command', 'carrier']} rule="pulseRate" />
          <NumberField label="PWM resolution, bits" path={['command', 'generatorBits']} rule="converterBits" />
          <NumberField
            label="Timer clock"
            path={['command', 'generatorClock']}
            rule="pulseRate"
            help="instead of the bits"
          />
        </Pair>
      )}
    </>
  );
}

/** Values of another meaning are other values: they start afresh. */
const withMeaning = <C extends ScaledCommandDocument>(command: C, meaning: C['meaning']): C => ({
  ...command,
  meaning,
  from: { ...command.from, value: '0' },
  to: { ...command.to, value: '' },
  creep: null,
  calibration: [],
});

type Analog = Extract<ScaledCommandDocument, { kind: 'analog' }>;

/** Milliamperes in place of volts begin at the ends of their range. */
function withRange(command: Analog, range: AnalogRange): Analog {
  const unitOf = (each: AnalogRange) => (each.endsWith('mA') ? 'mA' : 'V');
  if (unitOf(range) === unitOf(command.range)) return { ...command, range };
  const { lowest, highest, unit } = rangeOf(range, 10);
  const point = (signal: typeof lowest, value: string) => ({ signal: `${exactToText(signal)} ${unit}`, value });
  return {
    ...command,
    range,
    from: point(lowest, command.from.value),
    to: point(highest, command.to.value),
    standing: '',
    trimStep: null,
    calibration: [],
  };
}

/** Signal A means a, signal B means b. */
function TwoPoints({ command }: { readonly command: ScaledCommandDocument }) {
  const { document } = useAxis();
  const [signal, value] = [signalRuleOf(command), valueRuleOf(command, document.motor.form)];
  return (
    <Pair>
      <ExactField label="Signal A" path={['command', 'from', 'signal']} rule={signal} />
      <ExactField label="Value at signal A" path={['command', 'from', 'value']} rule={value} />
      <ExactField label="Signal B" path={['command', 'to', 'signal']} rule={signal} />
      <ExactField label="Value at signal B" path={['command', 'to', 'value']} rule={value} />
    </Pair>
  );
}

function PotentiometerFields() {
  const path = <Field extends string>(field: Field) => ['command', 'potentiometer', field] as const;
  return (
    <>
      <Between>Potentiometer on the drive’s reference</Between>
      <Pair>
        <NumberField
          label="Potentiometer"
          path={path('resistance')}
          rule="potResistance"
          help="4.7 to 10 kΩ is common"
        />
        <NumberField label="Dead travel at each end" path={path('deadEnd')} rule="deadEnd" />
        <NumberField label="Reference" path={path('referenceVoltage')} rule="referenceVoltage" />
        <NumberField
          label="Reference current limit"
          path={path('referenceCurrent')}
          rule="current"
          shownIn={{ unit: 'mA', of: 1000 }}
        />
        <NumberField label="Drive’s input" path={path('inputResistance')} rule="potResistance" />
      </Pair>
    </>
  );
}

/** The drive's end of a scaled signal. */
export function ScaledDriveFields({ command }: { readonly command: ScaledCommandDocument }) {
  return (
    <>
      {command.kind === 'analog' ? (
        <>
          <DocumentChoice
            label="Drive input type"
            value={command.driveInput}
            choices={[
              { value: 'converted', label: 'digital (A/D converter)' },
              { value: 'purely analog', label: 'purely analog' },
            ]}
            path={['command', 'driveInput']}
          />
          <Pair>
            {command.driveInput === 'converted' && (
              <NumberField label="Input resolution, bits" path={['command', 'driveBits']} rule="converterBits" />
            )}
            <NumberField
              label={`Deadband, ${command.range.endsWith('mA') ? 'mA' : 'V'}`}
              path={['command', 'deadband']}
              rule="signalDeadband"
            />
            <NumberField label="Filter" path={['command', 'filter']} rule="dwell" shownIn={{ unit: 'ms', of: 1000 }} />
          </Pair>
          <DocumentChoice
            label="Gain format"
            value={command.gainForm}
            choices={[
              { value: 'value at full signal', label: 'the value at full signal' },
              { value: 'value for one of signal', label: 'the value for one volt or milliampere' },
            ]}
            path={['command', 'gainForm']}
          />
        </>
      ) : (
        <>
          <Pair>
            <NumberField label="Capture clock" path={['command', 'captureClock']} rule="pulseRate" />
            <ExactField
              label="Raw number at 100 %"
              path={['command', 'rawFullScale']}
              rule="rawFullScale"
              help="as in its manual: 1023 or 1024"
            />
            <ExactField label="Largest numerator" path={['command', 'numeratorMax']} rule="gearRegister" />
            <ExactField label="Largest denominator" path={['command', 'denominatorMax']} rule="gearRegister" />
          </Pair>
          <TextLine
            label="Other function of this input"
            path={['command', 'sharedWith']}
            value={command.sharedWith}
            help="Empty: no other function."
          />
          <Hint>value = raw × N / D + offset</Hint>
        </>
      )}
      <Toggle label="Trip on signal loss" path={['command', 'faultDetected']} value={command.faultDetected} />
    </>
  );
}
