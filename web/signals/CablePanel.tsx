import { isPulseCommand } from '@kavrid/contract';
import { FromLibrary } from '../chain/fields/FromLibrary.tsx';
import { DocumentChoice } from '../member/DocumentChoice.tsx';
import { NumberField } from '../member/QuantityField.tsx';
import { Toggle } from '../member/Toggle.tsx';
import { useAxis } from '../member/useAxis.ts';
import { Column, Pair } from '../ui/fieldParts.tsx';
import { Panel } from '../ui/Panel.tsx';

/** The cable from controller to drive; resistor and termination are those of a pulse line. */
export function CablePanel() {
  const { cable, command } = useAxis().document;
  const isPulseLine = isPulseCommand(command);
  const shield = (
    <DocumentChoice
      label="Shield at"
      value={cable.shield}
      choices={[
        { value: 'none', label: 'no shield' },
        { value: 'one end', label: 'one end' },
        { value: 'both ends', label: 'both ends' },
      ]}
      path={['cable', 'shield']}
    />
  );
  const length = <NumberField label="Length" path={['cable', 'length']} rule="cableLength" />;
  return (
    <Panel title="Cable">
      <Column>
        <FromLibrary shelf="cable" />
        {isPulseLine ? (
          <>
            <Pair>
              <NumberField label="Resistor" path={['cable', 'resistor']} rule="resistance" help="empty: none" />
              {length}
            </Pair>
            <Pair>
              {shield}
              <NumberField label="Termination" path={['cable', 'termination']} rule="resistance" help="empty: open" />
            </Pair>
          </>
        ) : (
          <Pair>
            {shield}
            {length}
          </Pair>
        )}
        <Toggle label="0 V of both ends connected" path={['cable', 'commonReference']} value={cable.commonReference} />
      </Column>
    </Panel>
  );
}
