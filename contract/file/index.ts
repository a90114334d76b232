export * from './machineFile.ts';
export * from './upgradeFile.ts';
export * from './readMachineFile.ts';
