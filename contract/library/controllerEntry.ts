import { z } from 'zod';
import { controllerSchema } from '../documents.ts';
import { approximate, line } from '../fields.ts';

export const controllerKinds = ['CNC controller', 'PLC', 'embedded board'] as const;
export const outputKinds = [
  'differential',
  'push-pull',
  'open collector, sinking',
  'open collector, sourcing',
] as const;

/** A controller on the shelf: what it can send, and what it can hear. */
export const controllerEntrySchema = controllerSchema.extend({
  kind: z.enum(controllerKinds),
  outputs: z.array(z.enum(outputKinds)).max(outputKinds.length),
  outputVoltage: approximate('voltage'),
  analogOutputs: approximate('outputs'),
  analogBits: approximate('converterBits'),
  pwmBits: approximate('converterBits'),
  pwmFrequency: approximate('pulseRate'),
  encoderInputRate: approximate('pulseRate'),
  notes: line(2000),
});
export type ControllerEntry = z.infer<typeof controllerEntrySchema>;
