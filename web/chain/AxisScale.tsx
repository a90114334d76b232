import { valueOf } from '@kavrid/core/sheet';
import { useAxis } from '../member/useAxis.ts';
import { Hint } from '../ui/fieldParts.tsx';
import { useShownUnits } from '../ui/units.ts';
import { ScalePicture } from './ScalePicture.tsx';
import { useScaledCommand } from './useScaledCommand.ts';

/** The scale of the axis on screen as a picture, or why there is none. */
export function AxisScale() {
  const { computation } = useAxis();
  const { command } = useScaledCommand();
  const units = useShownUnits(computation.input);
  const { results } = computation;
  if (results.signalScale.state === 'unknown')
    return <Hint>The scale is not known: {results.signalScale.because}.</Hint>;
  const steps = [valueOf(results.controllerSignalStep), valueOf(results.driveSignalStep)];
  const step = Math.max(...steps.map((each) => each ?? 0));
  return (
    <ScalePicture
      scale={results.signalScale.value}
      range={command.range}
      deadband={command.deadband}
      step={step === 0 ? undefined : step}
      valueUnit={units.name('{value}')}
      shown={(value) => units.shown(value, '{value}')}
    />
  );
}
