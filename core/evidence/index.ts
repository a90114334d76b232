export * from './evidence.ts';
export * from './acceptance.ts';
