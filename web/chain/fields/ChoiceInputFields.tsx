import type { ChoiceCommandDocument } from '@kavrid/contract';
import { nothingMeanings } from '@kavrid/core/signal';
import { TextField } from '@mui/material';
import { useState } from 'react';
import { useEdit } from '../../member/memberContext.ts';
import { DocumentChoice } from '../../member/DocumentChoice.tsx';
import { NumberField } from '../../member/QuantityField.tsx';
import { Pair } from '../../ui/fieldParts.tsx';

const milliseconds = { unit: 'ms', of: 1000 };

/** Which inputs pick the moves, and how the controller switches them. The moves themselves stand under Signals. */
export function ChoiceInputFields({ command }: { readonly command: ChoiceCommandDocument }) {
  const edit = useEdit();
  return (
    <>
      <NamesField
        label="Inputs, first to last"
        names={command.inputs}
        change={(inputs) => edit(['command'], withInputs(command, inputs))}
        most={6}
        least={1}
      />
      <NumberField
        label="Output skew"
        path={['command', 'skew']}
        rule="dwell"
        shownIn={milliseconds}
        help="between inputs that change together"
      />
    </>
  );
}

/** Patterns for another number of inputs: a new input is off in all of them; those that need one that is gone are gone. */
export const fitted = <T extends { readonly pattern: string }>(rows: readonly T[], inputs: number): readonly T[] =>
  rows
    .filter(({ pattern }) => !pattern.slice(inputs).includes('1'))
    .map((row) => ({ ...row, pattern: row.pattern.slice(0, inputs).padEnd(inputs, '0') }));

const withInputs = (command: ChoiceCommandDocument, inputs: readonly string[]) => ({
  ...command,
  inputs,
  moves: fitted(command.moves, inputs.length),
  patternAtEnable: command.patternAtEnable.slice(0, inputs.length).padEnd(inputs.length, '0'),
});

/** Names with commas between them. */
export function NamesField(props: {
  readonly label: string;
  readonly names: readonly string[];
  readonly change: (names: readonly string[]) => void;
  readonly most: number;
  readonly least: number;
}) {
  const { label, names, change, most, least } = props;
  const [typed, setTyped] = useState<string>();
  const split = (text: string) =>
    text
      .split(',')
      .map((each) => each.trim())
      .filter((each) => each !== '');
  const wrong = (each: readonly string[]) =>
    each.length < least
      ? 'At least one is needed.'
      : each.length > most
        ? `At most ${most}.`
        : each.some((name) => name.length > 20)
          ? 'At most 20 characters each.'
          : new Set(each).size < each.length
            ? 'Two inputs have the same name.'
            : undefined;
  const error = typed === undefined ? undefined : wrong(split(typed));
  return (
    <TextField
      label={label}
      value={typed ?? names.join(', ')}
      error={error !== undefined}
      helperText={error ?? 'terminal names, separated by commas'}
      onChange={({ target: { value } }) => {
        setTyped(value);
        const read = split(value);
        if (wrong(read) === undefined) change(read);
      }}
      onBlur={() => setTyped(undefined)}
    />
  );
}

/** How the drive takes its inputs. */
export function ChoiceDriveFields({ command }: { readonly command: ChoiceCommandDocument }) {
  return (
    <>
      <NumberField
        label="Minimum input duration"
        path={['command', 'minimumInputDuration']}
        rule="dwell"
        shownIn={milliseconds}
        help="a pattern counts after it has been stable for this time"
      />
      <Pair>
        <NumberField
          label="Start delay"
          path={['command', 'startDelay']}
          rule="dwell"
          shownIn={milliseconds}
          help="from the first change"
        />
        <NumberField label="Stored moves" path={['command', 'storedMoves']} rule="storedMoves" />
      </Pair>
      <DocumentChoice
        label="Pattern without a move"
        value={command.nothing}
        choices={nothingMeanings.map((value) => ({ value, label: value }))}
        path={['command', 'nothing']}
      />
      <DocumentChoice
        label="Homing"
        value={command.homing}
        choices={[
          { value: 'never', label: 'never at enable' },
          { value: 'if not homed', label: 'at enable, if not homed' },
          { value: 'at every enable', label: 'at every enable' },
        ]}
        path={['command', 'homing']}
      />
    </>
  );
}
