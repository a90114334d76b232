import type { RuleName, ShownStep } from '@kavrid/contract';
import { Box } from '@mui/material';
import { useMember, wordingOf } from '../member/memberContext.ts';
import { NumberInput } from '../ui/NumberInput.tsx';
import { useShownUnits } from '../ui/units.ts';

type Key = ShownStep['asks'][number]['key'];
export type Numbers = Readonly<Partial<Record<Key, number>>>;

const labels: Readonly<Record<Key, { readonly label: string; readonly rule: RuleName; readonly template: string }>> = {
  commanded: { label: 'Commanded distance', rule: 'position', template: '{u}' },
  speed: { label: 'Speed', rule: 'speed', template: '{u}/s' },
  room: { label: 'Room behind the switch', rule: 'distance', template: '{u}' },
};

/** Numbers that a step asks for, in the unit that is shown. */
export function AskedNumbers({
  asked,
  numbers,
  onNumbers,
}: {
  readonly asked: ShownStep['asks'];
  readonly numbers: Numbers;
  readonly onNumbers: (numbers: Numbers) => void;
}) {
  const wording = wordingOf(useMember());
  const units = useShownUnits(wording);
  if (asked.length === 0) return null;
  return (
    <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', my: 1 }}>
      {asked.map(({ key }) => {
        const { label, rule, template } = labels[key];
        const shownIn = units.unit === 'in' ? { unit: units.name(template), of: units.shown(1, template) } : undefined;
        return (
          <Box key={key} sx={{ width: 220 }}>
            <NumberInput
              label={label}
              rule={rule}
              axisUnit={wording.axisUnit}
              shownIn={shownIn}
              value={numbers[key] ?? null}
              onValue={(value) => {
                const { [key]: _, ...others } = numbers;
                onNumbers(value === null ? others : { ...others, [key]: value });
              }}
            />
          </Box>
        );
      })}
    </Box>
  );
}
