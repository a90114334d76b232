export * from './writeAndVerify.ts';
export * from './session/index.ts';
