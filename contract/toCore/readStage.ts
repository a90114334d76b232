import type { Stage } from '@kavrid/core/chain';
import { known } from '@kavrid/core/sheet';
import type { StageDocument } from '../documents.ts';
import type { ReadNumber, ReadText } from './fieldReader.ts';

/** Reads a stage of the mechanics. @param path of the stage in the document, as a JSON pointer */
export function readStage(stage: StageDocument, path: string, text: ReadText, number: ReadNumber): Stage {
  const base = {
    reverses: stage.reverses,
    efficiency: number(`${path}/efficiency`, 'the efficiency', stage.efficiency),
    inertia: number(`${path}/inertia`, 'the inertia of a stage', stage.inertia),
    backlash: number(`${path}/backlash`, 'the backlash of a stage', stage.backlash),
    speedLimit: stage.speedLimit ?? undefined,
  };
  switch (stage.kind) {
    case 'direct':
      return { kind: 'direct', ...base };
    case 'gearbox':
      return {
        kind: 'gearbox',
        ratio: text(`${path}/ratio`, 'the gearbox ratio', stage.ratio, 'gearboxRatio'),
        ...base,
      };
    case 'beltDrive':
      return {
        kind: 'beltDrive',
        teeth: text(`${path}/teeth`, 'the number of pulley teeth', stage.teeth, 'teeth'),
        pitch: text(`${path}/pitch`, 'the belt pitch', stage.pitch, 'beltPitch'),
        specificStiffness: number(
          `${path}/specificStiffness`,
          'the belt’s specific stiffness',
          stage.specificStiffness,
        ),
        freeLength: number(`${path}/freeLength`, 'the free length of the belt', stage.freeLength),
        ...base,
      };
    case 'screw':
      return {
        kind: 'screw',
        thread: stage.thread,
        lead: text(`${path}/lead`, 'the lead', stage.lead, 'lead'),
        starts: text(`${path}/starts`, 'the number of starts', stage.starts, 'starts'),
        leftHand: stage.leftHand,
        rootDiameter: number(`${path}/rootDiameter`, 'the screw’s root diameter', stage.rootDiameter),
        freeLength: number(`${path}/freeLength`, 'the free length of the screw', stage.freeLength),
        bearings: stage.bearings,
        ...base,
      };
    case 'beltReduction':
      return {
        kind: 'beltReduction',
        drivingTeeth: text(`${path}/drivingTeeth`, 'the number of driving teeth', stage.drivingTeeth, 'teeth'),
        drivenTeeth: text(`${path}/drivenTeeth`, 'the number of driven teeth', stage.drivenTeeth, 'teeth'),
        ...base,
      };
    case 'rack':
      return {
        kind: 'rack',
        teeth: text(`${path}/teeth`, 'the number of pinion teeth', stage.teeth, 'teeth'),
        module: text(`${path}/module`, 'the module', stage.module, 'module'),
        helixAngle: text(`${path}/helixAngle`, 'the helix angle', stage.helixAngle, 'helixAngle'),
        ...base,
      };
    case 'roller':
      return {
        kind: 'roller',
        diameter: text(`${path}/diameter`, 'the roller’s diameter', stage.diameter, 'diameter'),
        ...base,
      };
    case 'wireDrum':
      return {
        kind: 'wireDrum',
        drumDiameter: text(`${path}/drumDiameter`, 'the drum’s diameter', stage.drumDiameter, 'diameter'),
        wireDiameter: text(`${path}/wireDiameter`, 'the wire’s diameter', stage.wireDiameter, 'diameter'),
        ...base,
      };
    case 'worm':
      return {
        kind: 'worm',
        starts: text(`${path}/starts`, 'the number of worm starts', stage.starts, 'starts'),
        wheelTeeth: text(`${path}/wheelTeeth`, 'the number of wheel teeth', stage.wheelTeeth, 'teeth'),
        backDriveEfficiency: stage.backDriveEfficiency === null ? undefined : known(stage.backDriveEfficiency),
        ...base,
      };
    case 'rotaryTable':
      return {
        kind: 'rotaryTable',
        ratio: text(`${path}/ratio`, 'the ratio of the table', stage.ratio, 'gearboxRatio'),
        ...base,
      };
    case 'dosingHead':
      return {
        kind: 'dosingHead',
        outputPerTurn: text(`${path}/outputPerTurn`, 'the output per turn', stage.outputPerTurn, 'outputPerTurn'),
        ...base,
      };
    case 'slide':
      return { kind: 'slide', ...base };
  }
}
