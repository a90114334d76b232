export const speedSources = ['dial', 'analog', 'PWM', 'pulses', 'fixed speeds', 'field bus'] as const;
export type SpeedSource = (typeof speedSources)[number];
