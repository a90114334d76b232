/** Something that holds an axis back, in axis units/s. */
export interface SpeedLimit {
  readonly name: string;
  readonly speed: number;
  /** Index of the stage it belongs to, and whether it is the whirling of its screw. */
  /** It is the voltage of the supply. */
  readonly isSupply?: true;
  readonly stage?: { readonly index: number; readonly isCritical: boolean };
}

/** The lowest of the limits, and the names of all that share it (within one part in 10⁹). */
export function lowestLimit(limits: readonly SpeedLimit[]): {
  readonly speed: number;
  readonly binding: readonly string[];
} {
  const speed = Math.min(...limits.map((limit) => limit.speed));
  return { speed, binding: limits.filter((limit) => limit.speed <= speed * (1 + 1e-9)).map(({ name }) => name) };
}
