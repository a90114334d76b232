import { terminalCurrents, terminalUses } from '@kavrid/core/signal';
import { z } from 'zod';
import { line } from '../fields.ts';

/** The terminals of a drive or a controller, as its manual marks them. */
export const terminalTable = z
  .array(
    z.strictObject({
      name: line(20),
      use: z.enum(terminalUses),
      current: z.enum(terminalCurrents),
      /** It cannot be enabled until this is wired or bridged. */
      isNeeded: z.boolean(),
      note: line(200),
    }),
  )
  .max(300);
