export * from './rules.ts';
export * from './documents.ts';
export * from './newAxis.ts';
export * from './driveProfileFile.ts';
export * from './api.ts';
export * from './toCore/readAxis.ts';
export * from './toCore/plannedValues.ts';
export * from './toCore/servoDefinition.ts';
