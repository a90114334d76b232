import { newSpindleCommand, type SpindleCommandDocument } from '@kavrid/contract';
import { spindleSignalRange, spindleSignals, type SpindleSignal } from '@kavrid/core/spindle';
import { Button } from '@mui/material';
import { Between, Hint, Pair } from '../../ui/fieldParts.tsx';
import { Toggle } from '../../member/Toggle.tsx';
import { TextLine } from '../../member/TextLine.tsx';
import { useEdit } from '../../member/memberContext.ts';
import { ChoiceField } from '../../ui/ChoiceField.tsx';
import { DocumentChoice } from '../../member/DocumentChoice.tsx';
import { ExactField, NumberField } from '../../member/QuantityField.tsx';
import { commandTitles } from '../commandTitles.ts';
import { useSpindle } from '../../member/useSpindle.ts';
import { SpindleFromLibrary } from './SpindleFromLibrary.tsx';

type Command<K extends SpindleCommandDocument['kind']> = Extract<SpindleCommandDocument, { readonly kind: K }>;

/** Who sends the speed, and the speeds that are wanted. */
export function WordFields() {
  return (
    <>
      <SpindleFromLibrary shelf="controller" />
      <Between>Wanted tool speeds</Between>
      <Pair>
        <NumberField label="Working speed" path={['wanted', 'speed']} rule="motorSpeed" />
        <NumberField label="Highest speed" path={['wanted', 'topSpeed']} rule="motorSpeed" />
      </Pair>
      <Hint>The probe above starts at the working speed. Enter another value at any station.</Hint>
    </>
  );
}

/** How the speed comes to the drive. */
export function SignalFields() {
  const { command } = useSpindle().document;
  const edit = useEdit();
  return (
    <>
      <ChoiceField
        field="/command/kind"
        label="Speed command source"
        value={command.kind}
        onChange={(kind) => edit(['command'], newSpindleCommand(kind))}
        choices={(Object.keys(commandTitles) as (keyof typeof commandTitles)[]).map((value) => ({
          value,
          label: commandTitles[value],
        }))}
      />
      {command.kind === 'signal' && <ScaleFields command={command} />}
      {command.kind === 'fixedSpeeds' && <FixedSpeedFields command={command} />}
      {command.kind === 'fieldBus' && <WordFormatFields command={command} />}
    </>
  );
}

const signalWords: Readonly<Record<SpindleSignal, string>> = {
  dial: 'dial on the drive',
  '0–10 V': '0–10 V',
  '0–20 mA': '0–20 mA',
  '4–20 mA': '4–20 mA, live zero',
  PWM: 'PWM duty',
  'pulse frequency': 'pulse frequency',
};

function ScaleFields({ command }: { readonly command: Command<'signal'> }) {
  const edit = useEdit();
  const { unit, lowest, highest } = spindleSignalRange(command.signal);
  const choose = (signal: SpindleSignal) => {
    const range = spindleSignalRange(signal);
    edit(['command'], {
      ...command,
      signal,
      from: { ...command.from, signal: String(range.lowest) },
      to: { ...command.to, signal: Number.isFinite(range.highest) ? String(range.highest) : '' },
    });
  };
  return (
    <>
      <ChoiceField
        field="/command/signal"
        label="Signal"
        value={command.signal}
        onChange={choose}
        choices={spindleSignals.map((value) => ({ value, label: signalWords[value] }))}
        help={`${lowest} … ${Number.isFinite(highest) ? highest : 'any'} ${unit}`}
      />
      <Pair>
        <ExactField label={`Lower signal, ${unit}`} path={['command', 'from', 'signal']} rule="spindleSignal" />
        <ExactField label="Lower frequency" path={['command', 'from', 'hertz']} rule="signalHertz" />
        <ExactField label={`Upper signal, ${unit}`} path={['command', 'to', 'signal']} rule="spindleSignal" />
        <ExactField label="Upper frequency" path={['command', 'to', 'hertz']} rule="signalHertz" />
        <NumberField
          label={command.signal === 'dial' ? 'Dial: divisions' : 'Controller: steps'}
          path={['command', 'senderSteps']}
          rule="steps"
          help="over the whole range"
        />
        <NumberField
          label="Drive: converter steps"
          path={['command', 'takerSteps']}
          rule="steps"
          help="over the whole range"
        />
      </Pair>
      {command.signal !== 'dial' && (
        <NumberField
          label="Controller: speed at full signal"
          path={['command', 'controllerTop']}
          rule="motorSpeed"
          help="rpm of the tool, as set at the controller"
        />
      )}
    </>
  );
}

function FixedSpeedFields({ command }: { readonly command: Command<'fixedSpeeds'> }) {
  const edit = useEdit();
  return (
    <>
      {command.speeds.map(({ pattern }, index) => (
        <Pair key={index}>
          <TextLine
            label={`Inputs, speed ${index + 1}`}
            path={['command', 'speeds', index, 'pattern']}
            value={pattern}
            {...(/^[01]{1,8}$/.test(pattern) ? {} : { help: 'enter levels such as 10' })}
          />
          <NumberField label="Frequency" path={['command', 'speeds', index, 'hertz']} rule="hertzOrNone" />
        </Pair>
      ))}
      <Pair>
        <Button
          disabled={command.speeds.length >= 32}
          onClick={() =>
            edit(
              ['command', 'speeds'],
              [...command.speeds, { pattern: (command.speeds.length + 1).toString(2).slice(0, 8), hertz: null }],
            )
          }
        >
          One more
        </Button>
        <Button
          disabled={command.speeds.length === 0}
          onClick={() => edit(['command', 'speeds'], command.speeds.slice(0, -1))}
        >
          One less
        </Button>
      </Pair>
    </>
  );
}

function WordFormatFields({ command }: { readonly command: Command<'fieldBus'> }) {
  const edit = useEdit();
  return (
    <>
      <ChoiceField
        label="Register unit"
        value={command.counts}
        onChange={(counts) => edit(['command'], { ...command, counts, each: counts === 'rpm' ? 1 : 0.01 })}
        choices={[
          { value: 'hertz', label: 'hertz' },
          { value: 'rpm', label: 'rpm of the motor' },
          { value: 'share', label: 'a share of full scale' },
        ]}
      />
      {command.counts === 'share' ? (
        <Pair>
          <NumberField label="Full scale, counts" path={['command', 'fullScale']} rule="fullScale" />
          <NumberField label="are" path={['command', 'fullHertz']} rule="hertz" />
        </Pair>
      ) : (
        <NumberField
          label={`One count is, ${command.counts === 'hertz' ? 'Hz' : 'rpm'}`}
          path={['command', 'each']}
          rule="countValue"
          help="0.01 and 0.1 Hz are common"
        />
      )}
      <Pair>
        <DocumentChoice
          label="Width"
          value={command.bits}
          path={['command', 'bits']}
          choices={[
            { value: '16', label: '16 bits' },
            { value: '32', label: '32 bits' },
          ]}
        />
        <Toggle label="signed" path={['command', 'signed']} value={command.signed} />
      </Pair>
    </>
  );
}
