import { Pair } from '../../ui/fieldParts.tsx';
import { TextLine } from '../../member/TextLine.tsx';
import { NumberField } from '../../member/QuantityField.tsx';
import { useSpindle } from '../../member/useSpindle.ts';

/** What turns at the end. */
export function ToolFields() {
  const { tool } = useSpindle().document;
  return (
    <>
      <TextLine label="Tool" path={['tool', 'name']} value={tool.name} />
      <Pair>
        <NumberField label="Diameter" path={['tool', 'diameter']} rule="length" />
        <NumberField label="Inertia" path={['tool', 'inertia']} rule="inertia" help="with arbor and pulley" />
        <NumberField
          label="Speed limit of the stage"
          path={['tool', 'topSpeed']}
          rule="motorSpeed"
          help="as marked on it"
        />
        <NumberField label="Rim speed limit" path={['tool', 'rimSpeed']} rule="rimSpeed" help="as marked on it" />
      </Pair>
    </>
  );
}
