import type { ShownStep } from '@kavrid/contract';
import { Button, FormControl, FormControlLabel, FormLabel, Radio, RadioGroup } from '@mui/material';
import { useState } from 'react';
import { useMember, wordingOf } from '../member/memberContext.ts';
import { NumberInput } from '../ui/NumberInput.tsx';
import { useShownUnits } from '../ui/units.ts';

/** What only a person can see. */
export function StepQuestion({
  question,
  isMissing,
  onAnswer,
}: {
  readonly question: ShownStep['question'];
  /** A number that belongs to the answer has not been entered. */
  readonly isMissing: boolean;
  readonly onAnswer: (answer: string | number) => void;
}) {
  const wording = wordingOf(useMember());
  const units = useShownUnits(wording);
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
        <NumberInput
          label={question.text}
          rule="position"
          axisUnit={wording.axisUnit}
          shownIn={units.unit === 'in' ? { unit: 'in', of: units.shown(1, '{u}') } : undefined}
          value={number}
          onValue={setNumber}
          isRequired
        />
      )}
      <Button
        variant="contained"
        sx={{ mt: 1, display: 'block' }}
        disabled={value === undefined || isMissing}
        onClick={() => value !== undefined && onAnswer(value)}
      >
        Confirm
      </Button>
    </>
  );
}
