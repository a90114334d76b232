import { newStage, stageName, type StageDocument, type StageDocumentOf } from '@kavrid/contract';
import { earlierKinds, lastKinds, roleOf, type StageKind } from '@kavrid/core/chain';
import { Box, Button } from '@mui/material';
import { memo } from 'react';
import { useAxis } from '../../member/useAxis.ts';
import { useEdit } from '../../member/memberContext.ts';
import { ChoiceField } from '../../ui/ChoiceField.tsx';
import { NumberField } from '../../member/QuantityField.tsx';
import { useSteady } from '../../ui/useSteady.ts';
import { stageFaces, type StagePath } from '../stageFaces.tsx';
import { Pair } from '../../ui/fieldParts.tsx';
import { Toggle } from '../../member/Toggle.tsx';

/** One element of the mechanics. */
export function StageFields({ index, choose }: { readonly index: number; readonly choose: (id: string) => void }) {
  const { document } = useAxis();
  const edit = useEdit();
  const stage = document.stages[index];
  const last = index === document.stages.length - 1;
  const { form } = document.motor;
  const possible = last ? lastKinds(document.motion.kind, form) : earlierKinds(form);
  const path: StagePath = (field) => ['stages', index, field];
  const replace = (stages: readonly StageDocument[], next: number) => {
    edit(['stages'], stages);
    choose(`stage-${next}`);
  };
  const addBefore = useSteady(() =>
    replace([...document.stages.slice(0, index), newStage('gearbox'), ...document.stages.slice(index)], index),
  );
  const remove = useSteady(() =>
    replace(
      document.stages.filter((_, k) => k !== index),
      Math.max(0, index - 1),
    ),
  );
  if (!stage) return null;
  const kinds = possible.includes(stage.kind) ? possible : [stage.kind, ...possible];
  const isPushed = roleOf(stage.kind) === 'pushed';
  const isTurning = roleOf(stage.kind) === 'turning';
  return (
    <>
      <ChoiceField
        field={`/stages/${index}/kind`}
        label="Type of stage"
        value={stage.kind}
        choices={kinds.map((kind) => ({ value: kind, label: stageName(kind) }))}
        onChange={(kind) => edit(['stages', index], newStage(kind))}
      />
      <KindFields kind={stage.kind} stage={stage} path={path} />
      <Pair>
        <NumberField label="Efficiency" path={path('efficiency')} rule="efficiency" help="0 to 1" />
        {isPushed ? (
          <NumberField label="Mass of the slide" path={path('inertia')} rule="mass" />
        ) : (
          <NumberField label="Inertia" path={path('inertia')} rule="inertia" help="at its input shaft" />
        )}
        <NumberField
          label="Backlash"
          path={path('backlash')}
          rule={isTurning ? 'backlashAngle' : 'backlashTravel'}
          help={isTurning ? 'at its output; arcmin may be typed' : 'full difference'}
        />
        <NumberField
          label="Speed limit"
          path={path('speedLimit')}
          rule={isPushed ? 'linearSpeed' : 'motorSpeed'}
          help={isPushed ? 'empty: none' : 'of its input shaft; empty: none'}
        />
      </Pair>
      <Toggle
        label={isTurning ? 'Output reverses direction' : 'Reverses direction'}
        path={path('reverses')}
        value={stage.reverses}
      />
      {form === 'rotary' && (
        <StageButtons addBefore={addBefore} remove={remove} mayRemove={document.stages.length > 1} />
      )}
    </>
  );
}

const StageButtons = memo(function StageButtons(props: {
  readonly addBefore: () => void;
  readonly remove: () => void;
  readonly mayRemove: boolean;
}) {
  return (
    <Box sx={{ display: 'flex', gap: 1 }}>
      <Button onClick={props.addBefore}>Add a stage before</Button>
      <Button color="error" disabled={!props.mayRemove} onClick={props.remove}>
        Remove
      </Button>
    </Box>
  );
});

/** What only this kind of stage has. */
function KindFields<K extends StageKind>(props: {
  readonly kind: K;
  readonly stage: StageDocumentOf<K>;
  readonly path: StagePath;
}) {
  const { kind, stage, path } = props;
  const { Fields } = stageFaces[kind];
  return Fields && <Fields stage={stage} path={path} />;
}
