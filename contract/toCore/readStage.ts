import type { Stage } from '@kavrid/core/chain';
import { stageFrom, type StageDocument } from '../stageDocument.ts';
import type { ReadNumber, ReadText } from './fieldReader.ts';

/** Reads a stage of the mechanics. @param path of the stage in the document, as a JSON pointer */
export const readStage = (stage: StageDocument, path: string, text: ReadText, number: ReadNumber): Stage =>
  stageFrom(stage, {
    base: {
      reverses: stage.reverses,
      efficiency: number(`${path}/efficiency`, 'the efficiency', stage.efficiency),
      inertia: number(`${path}/inertia`, 'the inertia of a stage', stage.inertia),
      backlash: number(`${path}/backlash`, 'the backlash of a stage', stage.backlash),
      speedLimit: stage.speedLimit ?? undefined,
    },
    text: (field, label, value, rule) => text(`${path}/${field}`, label, value, rule),
    number: (field, label, value) => number(`${path}/${field}`, label, value),
  });
