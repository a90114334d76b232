import type { ShownStep } from '@kavrid/contract';
import { Button, FormControl, FormControlLabel, FormLabel, Radio, RadioGroup } from '@mui/material';
import { useState } from 'react';
import { NumberInput } from '../ui/NumberInput.tsx';

/** What only a person can see. */
export function StepQuestion({
  question,
  onAnswer,
}: {
  readonly question: ShownStep['question'];
  readonly onAnswer: (answer: string | number) => void;
}) {
  const [answer, setAnswer] = useState<string>();
  const [number, setNumber] = useState<number | null>(null);
  const value = question.kind === 'choice' ? answer : (number ?? undefined);
  return (
    <>
      {question.kind === 'choice' ? (
        <FormControl>
          <FormLabel sx={{ fontSize: 14, color: 'text.primary', fontWeight: 600 }}>{question.text}</FormLabel>
          <RadioGroup value={answer ?? ''} onChange={(_, next) => setAnswer(next)}>
            {Object.entries(question.answers).map(([sign, words]) => (
              <FormControlLabel
                key={sign}
                value={sign}
                control={<Radio size="small" sx={{ py: 0.25 }} />}
                label={words}
                sx={{ '& .MuiFormControlLabel-label': { fontSize: 13.5 } }}
              />
            ))}
          </RadioGroup>
        </FormControl>
      ) : (
        <NumberInput label={question.text} rule="position" value={number} onValue={setNumber} isRequired />
      )}
      <Button
        variant="contained"
        sx={{ mt: 1, display: 'block' }}
        disabled={value === undefined}
        onClick={() => value !== undefined && onAnswer(value)}
      >
        Confirm
      </Button>
    </>
  );
}
