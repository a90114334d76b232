import { homingMethodFacts, homingMethodNumbers } from '@kavrid/core/homing';
import { useAxis } from '../member/useAxis.ts';
import { useEdit } from '../member/memberContext.ts';
import { ChoiceField } from '../ui/ChoiceField.tsx';

const choices = homingMethodNumbers.map((method) => ({
  value: method,
  label: `${method} · ${homingMethodFacts(method).name}`,
}));

/** The homing method of the axis. @param bare without a frame, for a table */
export function HomingMethodField({ bare = false }: { readonly bare?: boolean }) {
  const { method } = useAxis().document.homing;
  const edit = useEdit();
  return (
    <ChoiceField
      {...(bare ? { bare } : { help: homingMethodFacts(method).when })}
      label="Homing method"
      value={method}
      onChange={(value) => edit(['homing', 'method'], value)}
      choices={choices}
    />
  );
}
