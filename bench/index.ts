export * from './answerPdu.ts';
export * from './deviceRegisters.ts';
export * from './modbusServer.ts';
export * from './registerMap.ts';
export * from './servoDevice.ts';
export * from './spindleDevice.ts';
export * from './spindleRegisters.ts';
export * from './world.ts';
