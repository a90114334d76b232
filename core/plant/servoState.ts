/** Everything that changes from step to step: one flat object of doubles. Flags are 0 or 1. */
export interface ServoState {
  enabled: number;
  /** The following-error alarm has come; the motor is off. */
  tripped: number;
  /** Numerators not yet paid out as counts: what a gear with remainders keeps. */
  gearRemainder: number;
  demandCounts: number;
  demandSpeed: number;
  demandAcceleration: number;
  actualCounts: number;
  actualSpeed: number;
  integral: number;
  /** Of the torque command: what its notch and its filter keep. */
  notchFirst: number;
  notchSecond: number;
  filteredTorque: number;
  torque: number;
  motorAngle: number;
  motorSpeed: number;
  loadAngle: number;
  loadSpeed: number;
  minusLimitOn: number;
  plusLimitOn: number;
  /** Number of index pulses passed, and the counts at the last one. */
  indexPulses: number;
  indexCounts: number;
  /** J since the start: work of the motor, heat of friction and damping. */
  motorWork: number;
  heat: number;
}

/** At rest at a position in counts, enabled. */
export function servoState(counts = 0, countsPerRevolution = 1): ServoState {
  const angle = ((counts + 0.5) * 2 * Math.PI) / countsPerRevolution;
  return {
    enabled: 1,
    tripped: 0,
    gearRemainder: 0,
    demandCounts: counts,
    demandSpeed: 0,
    demandAcceleration: 0,
    actualCounts: counts,
    actualSpeed: 0,
    integral: 0,
    notchFirst: 0,
    notchSecond: 0,
    filteredTorque: 0,
    torque: 0,
    motorAngle: angle,
    motorSpeed: 0,
    loadAngle: angle,
    loadSpeed: 0,
    minusLimitOn: 0,
    plusLimitOn: 0,
    indexPulses: 0,
    indexCounts: 0,
    motorWork: 0,
    heat: 0,
  };
}
