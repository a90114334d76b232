import { formOf, isPulseCommand, axisInputOf, type AxisDocument } from '@kavrid/contract';
import { evaluateAxis } from '@kavrid/core/chain';
import { planMove } from '@kavrid/core/motion';
import { toNumber } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';
import { PulseTrain, type VcdOrder } from '@kavrid/core/signal';

/** The pulse train of an axis' test move, and how large it is. */
export interface PlannedTrain {
  readonly order: VcdOrder;
  readonly duration: number;
  readonly pulses: number;
}

/**
 * The pulses of the test move, or of the untimed train, that the controller sends.
 * @returns the reason where there are none.
 */
export function plannedTrain(axis: AxisDocument): PlannedTrain | { readonly because: string } {
  if (!isPulseCommand(axis.command)) return { because: 'no pulses command this axis' };
  const { input } = axisInputOf(axis);
  const results = evaluateAxis(input);
  if (results.stepsPerUnit.state === 'unknown') return { because: results.stepsPerUnit.because };
  const stepsPerUnit = toNumber(results.stepsPerUnit.value);
  const shared = { form: formOf(axis.command), pulseWidth: axis.signal.pulseWidth ?? undefined };
  if (input.train) {
    if (input.train.state === 'unknown') return { because: input.train.because };
    const { pulses, rate } = input.train.value;
    // At one fixed rate from the first pulse on.
    const speed = rate / stepsPerUnit;
    const distance = pulses / stepsPerUnit;
    const move = planMove(distance, { speed, acceleration: speed * 1e12 });
    const order = {
      ...shared,
      train: new PulseTrain(move, stepsPerUnit),
      isMinus: axis.command.inverted,
      from: 0,
      to: move.duration,
    };
    return { order, duration: move.duration, pulses };
  }
  const move = valueOf(input.testMove);
  if (!move) return { because: 'the test move has not been entered' };
  const isMinus = move.distance < 0 !== axis.command.inverted;
  const train = new PulseTrain(move, stepsPerUnit);
  return {
    order: { ...shared, train, isMinus, from: 0, to: move.duration },
    duration: move.duration,
    pulses: train.count,
  };
}
