import { formatNumber } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';
import { rangesOfSteps } from '@kavrid/core/spindle';
import { Button } from '@mui/material';
import { Between, Hint, Pair } from '../../ui/fieldParts.tsx';
import { Toggle } from '../../member/Toggle.tsx';
import { TextLine } from '../../member/TextLine.tsx';
import { useEdit } from '../../member/memberContext.ts';
import { DocumentChoice } from '../../member/DocumentChoice.tsx';
import { ExactField, NumberField } from '../../member/QuantityField.tsx';
import { useSpindle } from '../../member/useSpindle.ts';

/** The steps of the belt, each with the speeds that it leaves to the tool. */
export function BeltFields() {
  const { document, computation } = useSpindle();
  const edit = useEdit();
  const { belt } = document;
  const ranges = rangesOfSteps(computation.input, computation.results);
  const titleOf = (index: number) => belt.steps[index]?.name || `step ${index + 1}`;
  const setSteps = (steps: typeof belt.steps) => {
    edit(['belt', 'steps'], steps);
    if (belt.inUse >= steps.length) edit(['belt', 'inUse'], steps.length - 1);
  };
  return (
    <>
      <DocumentChoice
        label="Pulley step in use"
        value={belt.inUse}
        path={['belt', 'inUse']}
        choices={belt.steps.map((_, index) => ({ value: index, label: titleOf(index) }))}
      />
      {belt.steps.map((step, index) => {
        const range = ranges[index] && valueOf(ranges[index].range);
        return (
          <div key={index}>
            <Pair>
              <TextLine label={`Step ${index + 1}`} path={['belt', 'steps', index, 'name']} value={step.name} />
              <ExactField
                label="Belt ratio, motor : tool"
                path={['belt', 'steps', index, 'ratio']}
                rule="beltRatio"
                help="3/2 or 1.5: the motor turns faster"
              />
            </Pair>
            <Hint>
              {range
                ? `${formatNumber(range.lowest, 5)} … ${formatNumber(range.highest, 5)} rpm, up to ${range.highestBy.join(' and ')}`
                : 'speeds not known yet'}
            </Hint>
          </div>
        );
      })}
      <Pair>
        <Button disabled={belt.steps.length >= 8} onClick={() => setSteps([...belt.steps, { name: '', ratio: '' }])}>
          Add a step
        </Button>
        <Button disabled={belt.steps.length === 1} onClick={() => setSteps(belt.steps.slice(0, -1))}>
          One less
        </Button>
      </Pair>
      <Between>Mechanics</Between>
      <Pair>
        <NumberField
          label="Belt speed limit"
          path={['belt', 'speedLimit']}
          rule="motorSpeed"
          help="of the motor pulley"
        />
        <NumberField label="Pulley inertia" path={['belt', 'pulleyInertia']} rule="inertia" help="on the motor" />
        <NumberField
          label="Friction"
          path={['belt', 'frictionTorque']}
          rule="frictionTorque"
          help="at the motor: belt, bearings, seals"
        />
      </Pair>
      <Toggle label="Belt reverses direction" path={['belt', 'reverses']} value={belt.reverses} />
    </>
  );
}
