export * from './loopModel.ts';
export * from './margins.ts';
export * from './suggestGains.ts';
export * from './readMove.ts';
export * from './advice.ts';
export * from './stepResponse.ts';
export * from './identifyInertia.ts';
export * from './frequencyResponse.ts';
