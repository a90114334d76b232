import { stageName } from '../stageDocument.ts';
import { ratioOf, type AxisInput } from '@kavrid/core/chain';
import { toNumber } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';

/** The ratios that the stages of an axis have, by their names: the factors by which it may be wrong. */
export const stageRatiosOf = ({ stages }: AxisInput): readonly { readonly name: string; readonly ratio: number }[] =>
  stages.flatMap((stage) => {
    const ratio = valueOf(ratioOf(stage));
    const starts = stage.kind === 'screw' ? valueOf(stage.starts) : undefined;
    return [
      ...(ratio ? [{ name: stageName(stage.kind).toLowerCase(), ratio: toNumber(ratio) }] : []),
      ...(starts ? [{ name: 'starts of the screw', ratio: toNumber(starts) }] : []),
    ];
  });
