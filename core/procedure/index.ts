export * from './writeAndVerify.ts';
