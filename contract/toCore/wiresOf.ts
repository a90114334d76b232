import { protectionWires, type Wire } from '@kavrid/core/signal';
import { commandWires } from '../commands/commandFaces.ts';
import type { AxisDocument } from '../documents.ts';

/** Every wire of an axis, as it follows from how it is commanded, enabled, guarded, homed and braked. */
export function wiresOf(axis: AxisDocument): readonly Wire[] {
  const { command, protection, settings, homing, brake, motion } = axis;
  const { enable, alarm, limits, safeTorqueOff } = protection;
  return [
    ...commandWires(command),
    ...protectionWires({
      enable: { ...enable, driveLevel: settings.enableActiveLevel },
      alarm: { ...alarm, drives: alarm.drives ?? 1 },
      limits: motion.kind === 'linear' ? { ...limits, activeLevel: settings.limitActiveLevel } : undefined,
      safeTorqueOff,
      homing,
      brake: brake.drivenBy,
      isLoopInController: command.kind === 'analog' && command.loop !== null,
    }),
  ];
}
