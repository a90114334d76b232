import { controllerRoles } from '@kavrid/core/drive';
import { z } from 'zod';
import { controllerSchema } from '../documents.ts';
import { approximate } from '../fields.ts';
import { endValueSchema } from './endValue.ts';
import { shelfFields } from './shelfFields.ts';
import { terminalTable } from './terminalTable.ts';

export const controllerKinds = ['CNC controller', 'PLC', 'embedded board'] as const;
/** A controller on the shelf: what it can send, and what it can hear. */
export const controllerEntrySchema = controllerSchema.extend({
  kind: z.enum(controllerKinds),
  analogOutputs: approximate('outputs'),
  analogBits: approximate('converterBits'),
  pwmBits: approximate('converterBits'),
  pwmFrequency: approximate('pulseRate'),
  encoderInputRate: approximate('pulseRate'),
  values: z.array(endValueSchema(controllerRoles)).max(500),
  terminals: terminalTable,
  ...shelfFields,
});
export type ControllerEntry = z.infer<typeof controllerEntrySchema>;
