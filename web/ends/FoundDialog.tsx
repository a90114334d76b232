import { readFoundValues } from '@kavrid/core/drive';
import { Alert, Box, TextField, Typography } from '@mui/material';
import { useState } from 'react';
import { useEdit, useMember } from '../member/memberContext.ts';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { FileButton } from '../ui/FileButton.tsx';
import { FormDialog } from '../ui/FormDialog.tsx';
import { endTitles, ends, type End, type EndState } from './useEndSheets.ts';

/** Takes what was found at an end from text: a line each, the code first. */
export function FoundDialog(props: {
  readonly states: readonly EndState[];
  readonly start: End;
  readonly close: () => void;
}) {
  const { states, start, close } = props;
  const { document } = useMember();
  const edit = useEdit();
  const [end, setEnd] = useState(start);
  const [text, setText] = useState('');
  const rows = states.find((state) => state.end === end)?.rows ?? [];
  const reading = readFoundValues(
    text,
    rows.filter(({ step }) => step === 'value').map(({ code }) => code),
  );
  const count = Object.keys(reading.found).length;
  const take = () => {
    const found = Object.entries(reading.found).map(([code, value]) => [`${end}/${code}`, value] as const);
    edit(['keying', 'found'], { ...document.keying.found, ...Object.fromEntries(found) });
    close();
  };
  return (
    <FormDialog
      title="Values found"
      submit={count === 0 ? 'Take over' : `Accept ${count}`}
      disabled={count === 0}
      onSubmit={take}
      close={close}
      width="sm"
    >
      <Box sx={{ display: 'grid', gap: 1.25, pt: 0.5 }}>
        <ChoiceField
          label="At"
          value={end}
          onChange={setEnd}
          choices={ends.map((value) => ({ value, label: endTitles[value] }))}
        />
        <TextField
          label="Values"
          multiline
          minRows={6}
          maxRows={12}
          value={text}
          onChange={({ target }) => setText(target.value)}
          helperText={`One value per line: the code, then the value, as “${rows.find(({ step }) => step === 'value')?.code ?? 'code'} = 100”.`}
          slotProps={{ htmlInput: { maxLength: 200_000 } }}
        />
        <FileButton
          accept=".txt,.csv,text/plain"
          testId="found-values"
          onFile={(file) => void file.text().then(setText)}
        >
          From a file …
        </FileButton>
        {reading.strange.length > 0 && (
          <Alert severity="warning">
            {reading.strange.length === 1 ? 'One line names' : `${reading.strange.length} lines name`} no code of this
            end:{' '}
            {reading.strange
              .slice(0, 4)
              .map(({ line, text: words }) => `line ${line} “${words.slice(0, 30)}”`)
              .join(', ')}
            .
          </Alert>
        )}
        {count > 0 && <Typography variant="body2">{count} values are understood.</Typography>}
      </Box>
    </FormDialog>
  );
}
