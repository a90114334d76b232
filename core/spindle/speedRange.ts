import { lowestLimit, type SpeedLimit } from '../chain/index.ts';

/** A belt step: motor turns per tool turn. */
export interface BeltStep {
  readonly name: string;
  readonly ratio: number;
}

/** Something that bounds a spindle, and where its speed is counted. */
export interface SpindleBound {
  readonly name: string;
  /** rpm */
  readonly speed: number;
  readonly at: 'motor' | 'tool';
  /** Set in the drive, not a property of what turns. */
  readonly isSetting: boolean;
}

/** Permissible tool speeds, rpm, with what limits each end. */
export interface SpeedRange {
  readonly lowest: number;
  readonly lowestBy: readonly string[];
  readonly highest: number;
  readonly highestBy: readonly string[];
  /** Nothing is left between them. */
  readonly isEmpty: boolean;
}

const atTool = ({ name, speed, at }: SpindleBound, { ratio }: BeltStep): SpeedLimit => ({
  name,
  speed: at === 'motor' ? speed / ratio : speed,
});

/**
 * The range of a tool on a belt step: the highest of what bounds it from below (cooling, torque), the lowest of what bounds it
 * from above (bearings, belt, tool, the drive’s hertz). A tie names all.
 */
export function speedRange(step: BeltStep, least: readonly SpindleBound[], most: readonly SpindleBound[]): SpeedRange {
  const highest = lowestLimit(most.map((bound) => atTool(bound, step)));
  const below = [{ name: 'standstill', speed: 0 }, ...least.map((bound) => atTool(bound, step))];
  const low = Math.max(...below.map(({ speed }) => speed));
  return {
    lowest: low,
    lowestBy: below.filter(({ speed }) => speed >= low * (1 - 1e-9)).map(({ name }) => name),
    highest: highest.speed,
    highestBy: highest.binding,
    isEmpty: low > highest.speed,
  };
}
