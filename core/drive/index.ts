export * from './deviceState.ts';
export * from './registerCodec.ts';
export * from './driveProfile.ts';
export * from './compareValues.ts';
