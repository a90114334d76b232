import { newAxis } from '@kavrid/contract';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { memberPath } from '../member/memberPath.ts';
import { useCreateAxisMutation } from '../store/api.ts';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { reasonOf } from '../ui/Loading.tsx';
import { NameDialog } from '../ui/NameDialog.tsx';

export function NewAxis({ machineId, close }: { readonly machineId: string; readonly close: () => void }) {
  const [kind, setKind] = useState<'linear' | 'rotary' | 'dosing'>('linear');
  const [create, { error, isLoading }] = useCreateAxisMutation();
  const navigate = useNavigate();
  const submit = async (name: string) => {
    const made = await create({ machineId, document: newAxis(name, kind) });
    if (made.data) await navigate(memberPath(machineId, made.data.id, 'axis'));
  };
  return (
    <NameDialog
      title="New axis"
      submit="Create"
      error={error ? reasonOf(error) : undefined}
      busy={isLoading}
      onName={(name) => void submit(name)}
      close={close}
    >
      <ChoiceField
        label="Type of motion"
        value={kind}
        onChange={setKind}
        choices={[
          { value: 'linear', label: 'Along a line (mm or inch)' },
          { value: 'rotary', label: 'Around an axis (degrees or revolutions)' },
          { value: 'dosing', label: 'A dosing pump (mL)' },
        ]}
      />
    </NameDialog>
  );
}
