import { pointerOf } from '@kavrid/contract';
import { FormControlLabel, Switch } from '@mui/material';
import { memo } from 'react';
import { useSteady } from '../ui/useSteady.ts';
import { useEdit, type MemberPath } from './memberContext.ts';

/** A yes or no of the document. */
export function Toggle({
  label,
  path,
  value,
}: {
  readonly label: string;
  readonly path: MemberPath<boolean>;
  readonly value: boolean;
}) {
  const edit = useEdit();
  const change = useSteady((checked: boolean) => edit(path, checked));
  return <ToggleSwitch label={label} field={pointerOf(path)} value={value} change={change} />;
}

/** A switch takes long to draw: it is redrawn only when it is turned. */
const ToggleSwitch = memo(function ToggleSwitch(props: {
  readonly label: string;
  readonly field: string;
  readonly value: boolean;
  readonly change: (checked: boolean) => void;
}) {
  const { label, field, value, change } = props;
  return (
    <FormControlLabel
      control={
        <Switch
          size="small"
          checked={value}
          onChange={(_, checked) => change(checked)}
          slotProps={{ input: { 'data-field': field } as object }}
        />
      }
      label={label}
      sx={{ '& .MuiFormControlLabel-label': { fontSize: 13 } }}
    />
  );
});
