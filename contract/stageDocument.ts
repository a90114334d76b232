import './withoutCodeGeneration.ts';
import type { StageBase, StageByKind, StageKind } from '@kavrid/core/chain';
import type { Exact } from '@kavrid/core/quantity';
import { known, type Outcome } from '@kavrid/core/sheet';
import { z } from 'zod';
import { approximate, exactText } from './fields.ts';
import type { RuleName } from './rules.ts';

const stageBase = {
  reverses: z.boolean(),
  efficiency: approximate('efficiency'),
  inertia: approximate('inertia'),
  /** The full difference at its output: deg of a shaft, or the unit of the travel. */
  backlash: approximate('backlashTravel'),
  /** rpm of the shaft that drives it; mm/s for a slide. */
  speedLimit: approximate('motorSpeed'),
};
export const screwBearings = ['fixed and free', 'supported at both', 'fixed and supported', 'fixed at both'] as const;

const schemas = {
  direct: z.strictObject({ kind: z.literal('direct'), ...stageBase }),
  gearbox: z.strictObject({ kind: z.literal('gearbox'), ratio: exactText, ...stageBase }),
  beltDrive: z.strictObject({
    kind: z.literal('beltDrive'),
    teeth: exactText,
    pitch: exactText,
    specificStiffness: approximate('pull'),
    freeLength: approximate('length'),
    ...stageBase,
  }),
  screw: z.strictObject({
    kind: z.literal('screw'),
    thread: z.enum(['rolling', 'sliding']),
    lead: exactText,
    starts: exactText,
    leftHand: z.boolean(),
    rootDiameter: approximate('length'),
    freeLength: approximate('length'),
    bearings: z.enum(screwBearings),
    ...stageBase,
  }),
  beltReduction: z.strictObject({
    kind: z.literal('beltReduction'),
    drivingTeeth: exactText,
    drivenTeeth: exactText,
    ...stageBase,
  }),
  rack: z.strictObject({
    kind: z.literal('rack'),
    teeth: exactText,
    module: exactText,
    helixAngle: exactText,
    ...stageBase,
  }),
  roller: z.strictObject({ kind: z.literal('roller'), diameter: exactText, ...stageBase }),
  wireDrum: z.strictObject({
    kind: z.literal('wireDrum'),
    drumDiameter: exactText,
    wireDiameter: exactText,
    ...stageBase,
  }),
  worm: z.strictObject({
    kind: z.literal('worm'),
    wheelTeeth: exactText,
    starts: exactText,
    /** At or below 0 it locks itself; null: 2 − 1/η is assumed. */
    backDriveEfficiency: approximate('backDriveEfficiency'),
    ...stageBase,
  }),
  rotaryTable: z.strictObject({ kind: z.literal('rotaryTable'), ratio: exactText, ...stageBase }),
  dosingHead: z.strictObject({ kind: z.literal('dosingHead'), outputPerTurn: exactText, ...stageBase }),
  slide: z.strictObject({ kind: z.literal('slide'), ...stageBase }),
} satisfies Record<StageKind, z.ZodObject>;

export const stageSchema = z.discriminatedUnion('kind', [
  schemas.direct,
  schemas.gearbox,
  schemas.beltDrive,
  schemas.screw,
  schemas.beltReduction,
  schemas.rack,
  schemas.roller,
  schemas.wireDrum,
  schemas.worm,
  schemas.rotaryTable,
  schemas.dosingHead,
  schemas.slide,
]);

export type StageDocumentOf<K extends StageKind> = z.infer<(typeof schemas)[K]>;
export type StageDocument = z.infer<typeof stageSchema>;

/** What a stage is read with: what all stages have, and ways to read its own fields. */
export interface StageReader {
  readonly base: StageBase;
  readonly text: (field: string, label: string, value: string, rule: RuleName) => Outcome<Exact>;
  readonly number: (field: string, label: string, value: number | null) => Outcome<number>;
}

/** What a kind of stage is called, what a new one has, and how it is read. */
interface StageFace<K extends StageKind> {
  readonly name: string;
  readonly blank: Omit<StageDocumentOf<K>, 'kind' | keyof typeof common> & Partial<typeof common>;
  readonly read: (stage: StageDocumentOf<K>, reader: StageReader) => StageByKind[K];
}

const common: Pick<StageDocumentOf<'direct'>, keyof typeof stageBase> = {
  reverses: false,
  efficiency: 0.9,
  inertia: 0,
  backlash: 0,
  speedLimit: null,
};

const faces: { readonly [K in StageKind]: StageFace<K> } = {
  direct: { name: 'Coupling', blank: { efficiency: 1 }, read: (_, { base }) => ({ kind: 'direct', ...base }) },
  gearbox: {
    name: 'Gearbox',
    blank: { ratio: '' },
    read: ({ ratio }, { base, text }) => ({
      kind: 'gearbox',
      ratio: text('ratio', 'the gearbox ratio', ratio, 'gearboxRatio'),
      ...base,
    }),
  },
  beltDrive: {
    name: 'Belt',
    blank: { teeth: '', pitch: '', specificStiffness: null, freeLength: null },
    read: ({ teeth, pitch, specificStiffness, freeLength }, { base, text, number }) => ({
      kind: 'beltDrive',
      teeth: text('teeth', 'the number of pulley teeth', teeth, 'teeth'),
      pitch: text('pitch', 'the belt pitch', pitch, 'beltPitch'),
      specificStiffness: number('specificStiffness', 'the belt’s specific stiffness', specificStiffness),
      freeLength: number('freeLength', 'the free length of the belt', freeLength),
      ...base,
    }),
  },
  screw: {
    name: 'Screw',
    blank: {
      thread: 'rolling',
      lead: '',
      starts: '1',
      leftHand: false,
      rootDiameter: null,
      freeLength: null,
      bearings: 'fixed and supported',
    },
    read: ({ thread, lead, starts, leftHand, rootDiameter, freeLength, bearings }, { base, text, number }) => ({
      kind: 'screw',
      thread,
      lead: text('lead', 'the lead', lead, 'lead'),
      starts: text('starts', 'the number of starts', starts, 'starts'),
      leftHand,
      rootDiameter: number('rootDiameter', 'the screw’s root diameter', rootDiameter),
      freeLength: number('freeLength', 'the free length of the screw', freeLength),
      bearings,
      ...base,
    }),
  },
  beltReduction: {
    name: 'Belt reduction',
    blank: { drivingTeeth: '', drivenTeeth: '', efficiency: 0.97 },
    read: ({ drivingTeeth, drivenTeeth }, { base, text }) => ({
      kind: 'beltReduction',
      drivingTeeth: text('drivingTeeth', 'the number of driving teeth', drivingTeeth, 'teeth'),
      drivenTeeth: text('drivenTeeth', 'the number of driven teeth', drivenTeeth, 'teeth'),
      ...base,
    }),
  },
  rack: {
    name: 'Rack',
    blank: { teeth: '', module: '', helixAngle: '0 deg' },
    read: ({ teeth, module, helixAngle }, { base, text }) => ({
      kind: 'rack',
      teeth: text('teeth', 'the number of pinion teeth', teeth, 'teeth'),
      module: text('module', 'the module', module, 'module'),
      helixAngle: text('helixAngle', 'the helix angle', helixAngle, 'helixAngle'),
      ...base,
    }),
  },
  roller: {
    name: 'Roller',
    blank: { diameter: '' },
    read: ({ diameter }, { base, text }) => ({
      kind: 'roller',
      diameter: text('diameter', 'the roller’s diameter', diameter, 'diameter'),
      ...base,
    }),
  },
  wireDrum: {
    name: 'Wire drum',
    blank: { drumDiameter: '', wireDiameter: '' },
    read: ({ drumDiameter, wireDiameter }, { base, text }) => ({
      kind: 'wireDrum',
      drumDiameter: text('drumDiameter', 'the drum’s diameter', drumDiameter, 'diameter'),
      wireDiameter: text('wireDiameter', 'the wire’s diameter', wireDiameter, 'diameter'),
      ...base,
    }),
  },
  worm: {
    name: 'Worm gear',
    blank: { starts: '1', wheelTeeth: '', backDriveEfficiency: null, efficiency: 0.6 },
    read: ({ starts, wheelTeeth, backDriveEfficiency }, { base, text }) => ({
      kind: 'worm',
      starts: text('starts', 'the number of worm starts', starts, 'starts'),
      wheelTeeth: text('wheelTeeth', 'the number of wheel teeth', wheelTeeth, 'teeth'),
      backDriveEfficiency: backDriveEfficiency === null ? undefined : known(backDriveEfficiency),
      ...base,
    }),
  },
  rotaryTable: {
    name: 'Rotary table',
    blank: { ratio: '1', efficiency: 1 },
    read: ({ ratio }, { base, text }) => ({
      kind: 'rotaryTable',
      ratio: text('ratio', 'the ratio of the table', ratio, 'gearboxRatio'),
      ...base,
    }),
  },
  dosingHead: {
    name: 'Dosing head',
    blank: { outputPerTurn: '', efficiency: 1 },
    read: ({ outputPerTurn }, { base, text }) => ({
      kind: 'dosingHead',
      outputPerTurn: text('outputPerTurn', 'the output per turn', outputPerTurn, 'outputPerTurn'),
      ...base,
    }),
  },
  slide: { name: 'Slide', blank: { efficiency: 1 }, read: (_, { base }) => ({ kind: 'slide', ...base }) },
};

export const stageName = (kind: StageKind): string => faces[kind].name;

/** A stage of a kind, with its fields empty where only the plate can tell. */
export const newStage = (kind: StageKind): StageDocument =>
  stageSchema.parse({ kind, ...common, ...faces[kind].blank });

const readAs = <K extends StageKind>(kind: K, stage: StageDocumentOf<K>, reader: StageReader) =>
  faces[kind].read(stage, reader);

/** What core works with. */
export const stageFrom = (stage: StageDocument, reader: StageReader): StageByKind[StageKind] =>
  readAs(stage.kind, stage, reader);
