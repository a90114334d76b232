export * from './documentPath.ts';
export * from './changesBetween.ts';
export * from './mergeDocuments.ts';
export * from './changeWords.ts';
