export { makeBench, benchUnits, type BenchPart } from './makeBench.ts';
export { mapPath, readRegisterMap } from './devices/registerMap.ts';
export type { RegisterCells } from './devices/registerCells.ts';
export { makeServo, type ServoDevice } from './devices/servo/servoDevice.ts';
export { makeSpindle, type SpindleDevice } from './devices/spindle/spindleDevice.ts';
export { answerPdu } from './protocol/answerPdu.ts';
export { serveModbus, type RunningServer } from './protocol/modbusServer.ts';
export { carriageWorld, grinderWorld } from './world/demoCell.ts';
