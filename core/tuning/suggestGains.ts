import type { Notch } from '../plant/index.ts';
import { logarithmic, loopResponses, resonanceOf, type LoopModel } from './loopModel.ts';
import { marginsOf, type Margins } from './margins.ts';

/** What is known of an axis before its gains are. */
export type TunedPlant = Omit<LoopModel, 'speedGain' | 'speedIntegralTime' | 'positionGain'>;

/** As wide as a resonance may be off, and as deep as common drives have it. */
const notchShape = { width: 0.6, depth: 0.1 } as const;

/** A notch at the resonance of a plant; undefined: it is rigid. */
export function notchFor(plant: TunedPlant): Notch | undefined {
  const { resonance } = resonanceOf(plant) ?? {};
  return resonance === undefined ? undefined : { frequency: resonance, ...notchShape };
}

export interface SuggestedGains {
  /** rad/s, of the speed loop */
  readonly bandwidth: number;
  readonly speedGain: number;
  /** s */
  readonly speedIntegralTime: number;
  /** 1/s */
  readonly positionGain: number;
  /** The smallest over all that inertia and stiffness may be off. */
  readonly speed: Margins;
  readonly position: Margins;
  readonly limitedBy: 'the bandwidth wanted' | 'the resonance' | 'the delays of the drive';
}

/** What every suggestion keeps, with inertia and stiffness off by `uncertainty`. Common practice: 45°, 6 dB, a sensitivity of at most 2. */
export const wantedMargins = { phaseMargin: 45, gainMargin: 6, peakSensitivity: 2 } as const;
/** Share by which inertia and stiffness may be other than given. */
export const uncertainty = 0.3;

/** Integral time and position gain by the bandwidth of the speed loop: slow enough not to take its phase. Common practice. */
const integralPeriods = 6;
const positionShare = 0.2;
/** Of a position loop in a controller, which is later: the first that keeps the margins. */
const hostedShares = [0.2, 0.15, 0.1, 0.07, 0.05] as const;

const points = 320;

/** Frequencies over which a model is judged, rad/s: from far below its slowest to far above its fastest. */
export function judgedFrequencies(model: LoopModel): Float64Array {
  const total = model.motorInertia + model.loadInertia;
  const bandwidth = model.speedGain / total;
  const slow = Math.min(bandwidth, model.positionGain, 1 / Math.max(model.speedIntegralTime, 1e-4));
  const { resonance = bandwidth } = resonanceOf(model) ?? {};
  const lag = model.torqueTimeConstant + model.filterTime + model.deadTime;
  const fast = Math.max(bandwidth, resonance, model.speedGain / model.motorInertia, 1 / Math.max(lag, 1e-5));
  const wide = logarithmic(slow / 1000, fast * 30, points);
  // What swings with little damping is narrower than the steps between.
  const narrow = Object.values(resonanceOf(model) ?? {}).flatMap((at) => [...logarithmic(0.9 * at, 1.1 * at, 160)]);
  return Float64Array.from([...wide, ...narrow]).sort();
}

/** Both loops of a model. */
export function marginsOfModel(model: LoopModel): { readonly speed: Margins; readonly position: Margins } {
  const { speedOpen, positionOpen } = loopResponses(model, judgedFrequencies(model));
  return {
    speed: marginsOf(speedOpen, model.speedIntegralTime > 0 ? 2 : 1),
    position: marginsOf(positionOpen, (model.host?.integralGain ?? 0) > 0 ? 2 : 1),
  };
}

/** Only the corners of what may be off are looked at: between them it may be a little less. */
const reserve = 1.04;

const keeps = ({ isStable, phaseMargin, gainMargin, peakSensitivity }: Margins): boolean =>
  isStable &&
  phaseMargin >= wantedMargins.phaseMargin * reserve &&
  gainMargin >= wantedMargins.gainMargin * reserve &&
  peakSensitivity <= wantedMargins.peakSensitivity / reserve;

const worst = (all: readonly Margins[]): Margins => ({
  isStable: all.every(({ isStable }) => isStable),
  phaseMargin: Math.min(...all.map((each) => each.phaseMargin)),
  gainMargin: Math.min(...all.map((each) => each.gainMargin)),
  peakSensitivity: Math.max(...all.map((each) => each.peakSensitivity)),
  crossover: all[0]?.crossover,
});

/** The plant as it may also be. */
function variants(plant: TunedPlant): readonly TunedPlant[] {
  const factors = [1, 1 - uncertainty, 1 + uncertainty];
  const stiffnesses = plant.stiffness === undefined ? [undefined] : factors.map((by) => (plant.stiffness ?? 0) * by);
  return factors.flatMap((by) =>
    stiffnesses.map((stiffness) => ({ ...plant, loadInertia: plant.loadInertia * by, stiffness })),
  );
}

/** Bandwidth, rad/s, below which nothing is suggested. */
const leastBandwidth = 1;

/**
 * Gains for the highest bandwidth of the speed loop up to the one wanted that keeps the margins with inertia and stiffness off by ±30 %.
 * undefined: there is none. @param wanted rad/s
 */
export function suggestGains(plant: TunedPlant, wanted: number): SuggestedGains | undefined {
  const total = plant.motorInertia + plant.loadInertia;
  for (let bandwidth = wanted; bandwidth >= leastBandwidth; bandwidth *= 0.93) {
    for (const share of plant.host ? hostedShares : [positionShare]) {
      const gains = {
        speedGain: bandwidth * total,
        speedIntegralTime: integralPeriods / bandwidth,
        positionGain: share * bandwidth,
      };
      const margins = variants(plant).map((variant) => marginsOfModel({ ...variant, ...gains }));
      if (!margins.every(({ speed, position }) => keeps(speed) && keeps(position))) continue;
      return {
        bandwidth,
        ...gains,
        speed: worst(margins.map(({ speed }) => speed)),
        position: worst(margins.map(({ position }) => position)),
        limitedBy: bandwidth === wanted ? 'the bandwidth wanted' : limitOf(plant, bandwidth),
      };
    }
  }
  return undefined;
}

/** Without its compliance the same axis could have more: then the resonance is what limits it. */
function limitOf(plant: TunedPlant, bandwidth: number): SuggestedGains['limitedBy'] {
  if (plant.stiffness === undefined) return 'the delays of the drive';
  const rigid = suggestGains({ ...plant, stiffness: undefined }, 1.3 * bandwidth);
  return rigid && rigid.bandwidth > 1.1 * bandwidth ? 'the resonance' : 'the delays of the drive';
}
