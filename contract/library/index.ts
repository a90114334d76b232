export * from './motorEntry.ts';
export * from './driveEntry.ts';
export * from './controllerEntry.ts';
export * from './cableEntry.ts';
export * from './libraryEntry.ts';
export * from './libraryFile.ts';
export * from './endValue.ts';
export * from './newEntry.ts';
export { commandFormOf, commandFrom } from './commandFrom.ts';
