import { planMove } from '../motion/index.ts';
import { numeral, type ProgramMove, type ProgramText } from './programMove.ts';

/**
 * The bursts of an untimed pulse train: pulses at one fixed rate, from which the drive makes its own profile. The rate has to be at
 * least S · min(v, √(a·d)), or the drive runs out of pulses before its profile ends.
 * @param highestRate Hz that the controller can send; null: not known
 */
export function burstTable(
  { distance, speed, acceleration, dwell, repeats, unit }: ProgramMove,
  pulsesPerUnit: number,
  rate: number,
  highestRate: number | null,
): ProgramText {
  const pulses = Math.round(distance * pulsesPerUnit);
  const needed = pulsesPerUnit * Math.min(speed, Math.sqrt(acceleration * distance));
  if (pulses < 1) return { because: `A move of ${numeral(distance)} ${unit} is less than one pulse.` };
  if (highestRate !== null && rate > highestRate)
    return { because: `${numeral(rate)} Hz is above the ${numeral(highestRate)} Hz that the controller sends.` };
  if (rate < needed)
    return {
      because: `${numeral(rate)} Hz is too slow: the profile needs ${numeral(needed, 5)} Hz at least, or the drive waits for pulses within the move.`,
    };
  const profile = planMove(distance, { speed, acceleration, jerk: undefined }).duration;
  const train = pulses / rate;
  // The drive still moves when the last pulse has come.
  const wait = Math.max(0, profile - train) + dwell;
  const lines = Array.from({ length: 2 * repeats }, (_, k) =>
    [k + 1, k % 2 === 0 ? 'plus' : 'minus', pulses, numeral(rate), numeral(train, 6), numeral(wait, 6)].join(','),
  );
  return {
    text: `Burst,Direction,Pulses,Rate (Hz),Duration of the burst (s),Wait until the next (s)\r\n${lines.join('\r\n')}\r\n`,
    notes: [`The move itself takes ${numeral(profile, 4)} s, the pulses ${numeral(train, 4)} s.`],
  };
}
