import { newStage, screwBearings, type DocumentPath, type StageDocument } from '@kavrid/contract';
import { earlierKinds, lastKinds, turningKinds } from '@kavrid/core/chain';
import { Box, Button } from '@mui/material';
import { memo } from 'react';
import { useAxis } from '../../member/useAxis.ts';
import { useEdit } from '../../member/memberContext.ts';
import { ChoiceField } from '../../ui/ChoiceField.tsx';
import { ExactField, NumberField } from '../../member/QuantityField.tsx';
import { useSteady } from '../../ui/useSteady.ts';
import { stageNames } from '../../member/stationName.ts';
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
  const path = (field: string): DocumentPath => ['stages', index, field];
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
  const isTurning = (turningKinds as readonly string[]).includes(stage.kind);
  return (
    <>
      <ChoiceField
        field={`/stages/${index}/kind`}
        label="Type of stage"
        value={stage.kind}
        choices={kinds.map((kind) => ({ value: kind, label: stageNames[kind] }))}
        onChange={(kind) => edit(['stages', index], newStage(kind))}
      />
      <KindFields stage={stage} path={path} />
      <Pair>
        <NumberField label="Efficiency" path={path('efficiency')} rule="efficiency" help="0 to 1" />
        {stage.kind === 'slide' ? (
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
          rule={stage.kind === 'slide' ? 'linearSpeed' : 'motorSpeed'}
          help={stage.kind === 'slide' ? 'empty: none' : 'of its input shaft; empty: none'}
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
function KindFields(props: { readonly stage: StageDocument; readonly path: (field: string) => DocumentPath }) {
  const { stage, path } = props;
  const edit = useEdit();
  switch (stage.kind) {
    case 'direct':
    case 'slide':
      return null;
    case 'gearbox':
      return (
        <ExactField
          label="Ratio, turns in to one out"
          path={path('ratio')}
          rule="gearboxRatio"
          help="As 3, 3.5 or exactly 491/49"
        />
      );
    case 'rotaryTable':
      return (
        <ExactField
          label="Ratio, turns in to one of the table"
          path={path('ratio')}
          rule="gearboxRatio"
          help="1 for a table driven directly"
        />
      );
    case 'beltDrive':
      return (
        <Pair>
          <ExactField label="Pulley teeth" path={path('teeth')} rule="teeth" />
          <ExactField label="Belt pitch" path={path('pitch')} rule="beltPitch" />
          <NumberField
            label="Specific stiffness"
            path={path('specificStiffness')}
            rule="pull"
            help="pull over strain, data sheet"
          />
          <NumberField label="Free length" path={path('freeLength')} rule="length" help="that carries the pull" />
        </Pair>
      );
    case 'screw':
      return (
        <>
          <Pair>
            <ExactField label="Lead" path={path('lead')} rule="lead" help="travel a turn" />
            <ExactField label="Starts" path={path('starts')} rule="starts" help="pitch = lead / starts" />
          </Pair>
          <ChoiceField
            label="Nut"
            value={stage.thread}
            choices={[
              { value: 'rolling', label: 'rolls on balls or rollers' },
              { value: 'sliding', label: 'slides: back-drive efficiency 2 − 1/η' },
            ]}
            onChange={(value) => edit(path('thread'), value)}
          />
          <Toggle label="Left-hand thread" path={path('leftHand')} value={stage.leftHand} />
          <Pair>
            <NumberField label="Root diameter" path={path('rootDiameter')} rule="length" help="for critical speed" />
            <NumberField label="Free length" path={path('freeLength')} rule="length" help="bearing to nut, longest" />
          </Pair>
          <ChoiceField
            label="Screw end bearings"
            value={stage.bearings}
            choices={screwBearings.map((value) => ({ value, label: value }))}
            onChange={(value) => edit(path('bearings'), value)}
          />
        </>
      );
    case 'beltReduction':
      return (
        <Pair>
          <ExactField label="Driving teeth" path={path('drivingTeeth')} rule="teeth" />
          <ExactField label="Driven teeth" path={path('drivenTeeth')} rule="teeth" />
        </Pair>
      );
    case 'rack':
      return (
        <>
          <Pair>
            <ExactField label="Pinion teeth" path={path('teeth')} rule="teeth" />
            <ExactField label="Module" path={path('module')} rule="module" help="normal module" />
          </Pair>
          <ExactField
            label="Helix angle"
            path={path('helixAngle')}
            rule="helixAngle"
            help="0 for a straight rack. Its cosine is taken to 45 digits."
          />
        </>
      );
    case 'roller':
      return (
        <ExactField label="Diameter" path={path('diameter')} rule="diameter" help="Slip is measured, not computed." />
      );
    case 'wireDrum':
      return (
        <Pair>
          <ExactField label="Drum diameter" path={path('drumDiameter')} rule="diameter" help="under the wire" />
          <ExactField label="Wire diameter" path={path('wireDiameter')} rule="diameter" />
        </Pair>
      );
    case 'worm':
      return (
        <Pair>
          <ExactField label="Wheel teeth" path={path('wheelTeeth')} rule="teeth" />
          <ExactField label="Worm starts" path={path('starts')} rule="starts" />
          <NumberField
            label="Back-drive efficiency"
            path={path('backDriveEfficiency')}
            rule="backDriveEfficiency"
            help="empty: 2 − 1/η assumed; 0 or less: self-locking"
          />
        </Pair>
      );
    case 'dosingHead':
      return <ExactField label="Output per turn" path={path('outputPerTurn')} rule="outputPerTurn" />;
  }
}
