export * from './evidence.ts';
