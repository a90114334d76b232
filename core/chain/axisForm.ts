/** Linear in mm, rotary in degrees or revolutions, a dosing pump in mL. */
export type MotionKind = 'linear' | 'rotary' | 'dosing';
export type AxisUnit = 'mm' | 'deg' | 'rev' | 'mL';
/** A motor turns a shaft, or pushes along a line: then there is no revolution, and what counts turns elsewhere counts mm. */
export type MotorForm = 'rotary' | 'linear';
