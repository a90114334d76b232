export * from './rational.ts';
export * from './exact.ts';
export * from './cosine.ts';
export * from './unit.ts';
export * from './parseQuantity.ts';
export * from './formatNumber.ts';
export * from './plainNumeral.ts';
