export * from './deviceState.ts';
export * from './errorText.ts';
export * from './registerCodec.ts';
export * from './driveProfile.ts';
export * from './endSettings.ts';
export * from './genericLists.ts';
export * from './compareValues.ts';
export * from './spindleSettings.ts';
