import { spindleObject } from './spindleDocument.ts';
import { problemPath } from './toCore/fieldReader.ts';
import { spindleInputOf } from './toCore/spindleInputOf.ts';

/** A spindle whose every text can be read. */
export const spindleSchema = spindleObject.superRefine((spindle, context) => {
  if (spindle.belt.inUse >= spindle.belt.steps.length)
    context.addIssue({ code: 'custom', message: 'There is no such belt step.', path: ['belt', 'inUse'] });
  for (const { path, message } of spindleInputOf(spindle).problems)
    context.addIssue({ code: 'custom', message, path: problemPath(path) });
});
