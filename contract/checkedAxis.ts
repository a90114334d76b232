import { axisObject } from './documents.ts';
import { problemPath } from './toCore/fieldReader.ts';
import { axisInputOf } from './toCore/axisInputOf.ts';

/** An axis whose every text can be read. */
export const axisSchema = axisObject.superRefine((axis, context) => {
  for (const { path, message } of axisInputOf(axis).problems)
    context.addIssue({ code: 'custom', message, path: problemPath(path) });
});
