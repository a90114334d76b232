import { changeWords, fieldValueWords, fieldWords, pointerOf, type Change, type EntryEffect } from '@kavrid/contract';
import { Box, Checkbox, FormControlLabel, Typography } from '@mui/material';
import { useState } from 'react';
import { Differences } from '../ui/Differences.tsx';
import { FormDialog } from '../ui/FormDialog.tsx';

/** Before an entry is saved: what it would change in the axes that came from it, each to be taken along or left as it is. */
export function EffectsDialog(props: {
  readonly effects: readonly EntryEffect[];
  readonly changes: readonly Change[];
  readonly busy: boolean;
  readonly save: (axes: readonly { readonly id: string; readonly version: number }[]) => void;
  readonly close: () => void;
}) {
  const { effects, changes, busy, save, close } = props;
  // Key-in sheets are made from the entry itself, by its list of values.
  const changesKeyIn = changes.some(({ path }) => path[1] === 'values');
  const changing = effects.filter((each) => each.changes.length > 0);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set(changing.map((each) => each.memberId)));
  const toggle = (memberId: string) =>
    setChosen((now) => new Set(now.has(memberId) ? [...now].filter((each) => each !== memberId) : [...now, memberId]));
  return (
    <FormDialog
      title="Save the entry"
      submit={
        chosen.size === 0
          ? 'Save the entry only'
          : `Save, and update ${chosen.size} ${chosen.size === 1 ? 'axis' : 'axes'}`
      }
      width="md"
      disabled={busy}
      onSubmit={() =>
        save(
          effects
            .filter(({ memberId }) => chosen.has(memberId))
            .map(({ memberId, axisVersion }) => ({ id: memberId, version: axisVersion })),
        )
      }
      close={close}
    >
      <Typography variant="body2">
        {changes.map((change) => changeWords({ ...change, path: change.path.slice(1) })).join('; ')}
      </Typography>
      {changing.length === 0 && (
        <Typography variant="body2">
          {changesKeyIn && effects.length > 0
            ? `No field of an axis changes. The key-in sheets of ${effects.map(({ axisName }) => axisName).join(', ')} follow the new list.`
            : 'No axis changes: none of its data is used by them.'}
        </Typography>
      )}
      {changing.map((effect) => (
        <Box key={effect.memberId} sx={{ border: 1, borderColor: 'divider', p: 1 }}>
          <FormControlLabel
            control={
              <Checkbox size="small" checked={chosen.has(effect.memberId)} onChange={() => toggle(effect.memberId)} />
            }
            label={`${effect.machineName}: ${effect.axisName}`}
          />
          <Box
            sx={{
              display: 'grid',
              gridTemplateColumns: '1fr 1fr',
              gap: 2,
              alignItems: 'start',
              opacity: chosen.has(effect.memberId) ? 1 : 0.5,
            }}
          >
            <Differences
              title="Fields"
              rows={effect.changes.map(({ path, before, after }) => ({
                key: pointerOf(path),
                label: fieldWords(path),
                was: fieldValueWords(before),
                is: fieldValueWords(after),
              }))}
            />
            <Differences
              title="Computed results"
              rows={effect.results.map(({ symbol, label, unit, before, after }) => ({
                key: symbol,
                label: unit ? `${label}, ${unit}` : label,
                was: before,
                is: after,
              }))}
            />
          </Box>
        </Box>
      ))}
    </FormDialog>
  );
}
