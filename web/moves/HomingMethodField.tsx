import { homingMethodFacts, homingMethodLabel, homingMethods } from '@kavrid/core/homing';
import { useAxis } from '../member/useAxis.ts';
import { DocumentChoice } from '../member/DocumentChoice.tsx';

const choices = homingMethods.map((method) => ({ value: method, label: homingMethodLabel(method) }));

/** The homing method of the axis. @param bare without a frame, for a table */
export function HomingMethodField({ bare = false }: { readonly bare?: boolean }) {
  const { method } = useAxis().document.homing;
  return (
    <DocumentChoice
      {...(bare ? { bare } : { help: homingMethodFacts(method).when })}
      label="Homing method"
      value={method}
      path={['homing', 'method']}
      choices={choices}
    />
  );
}
