export * from './servoDefinition.ts';
export * from './servoState.ts';
export * from './stepServo.ts';
export * from './runMoves.ts';
export * from './runHostMoves.ts';
export * from './runSpindle.ts';
