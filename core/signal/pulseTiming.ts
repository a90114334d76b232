import { lineNames, type PulseForm } from './pulseForm.ts';

/** When the controller changes its lines; s. */
export interface SentTiming {
  /** How long a pulse is active; undefined: half of each period. */
  readonly pulseWidth: number | undefined;
  /** From a change of direction to the next pulse. */
  readonly directionSetUp: number;
}

/** What the drive's input needs; s. */
export interface NeededTiming {
  readonly minimumPulseWidth: number;
  readonly directionSetUp: number;
}

/**
 * Increments/s above which a pulse or the gap after it becomes shorter than the drive's input can see. Quadrature changes
 * one of its lines at each increment, so that each line rests for two.
 */
export function rateByWidth(form: PulseForm, sent: SentTiming, needed: NeededTiming): number {
  const least = needed.minimumPulseWidth;
  return form === 'quadrature' ? 2 / least : 1 / (Math.max(sent.pulseWidth ?? least, least) + least);
}

/** A line changes its level. */
export interface Edge {
  readonly at: number;
  readonly level: boolean;
}

/** A stretch of time that must have a least length. */
export interface TimingMark {
  readonly label: string;
  readonly line: 0 | 1;
  readonly from: number;
  readonly to: number;
  readonly needed: number;
  readonly isEnough: boolean;
}

/** What stands on the two lines, to scale. */
export interface TimingPicture {
  readonly duration: number;
  readonly lines: readonly [TimingLine, TimingLine];
  readonly marks: readonly TimingMark[];
}
export interface TimingLine {
  readonly name: string;
  readonly start: boolean;
  readonly edges: readonly Edge[];
}

/** Three increments towards plus, a change of direction, two towards minus, at a rate in increments/s. */
export function timingPicture(form: PulseForm, rate: number, sent: SentTiming, needed: NeededTiming): TimingPicture {
  const period = 1 / rate;
  const [first, second] = lineNames[form];
  const edges: [Edge[], Edge[]] = [[], []];
  const width = Math.min(sent.pulseWidth ?? period / 2, period);
  const pulse = (line: 0 | 1, at: number) => edges[line].push({ at, level: true }, { at: at + width, level: false });
  const lead = period / 2;
  const mark = (label: string, line: 0 | 1, from: number, to: number, least: number): TimingMark => ({
    label,
    line,
    from,
    to,
    needed: least,
    isEnough: to - from >= least * (1 - 1e-9),
  });
  const widthMarks = (line: 0 | 1) => [
    mark('pulse', line, lead, lead + width, needed.minimumPulseWidth),
    mark('gap', line, lead + width, lead + period, needed.minimumPulseWidth),
  ];
  const turn = lead + 3 * period;
  switch (form) {
    case 'stepDirection': {
      const setUp = Math.max(sent.directionSetUp, 0);
      for (const k of [0, 1, 2]) pulse(0, lead + k * period);
      // The direction changes just so long before the next pulse as the controller is set to, and never within a pulse.
      const next = Math.max(turn, lead + 2 * period + width + setUp);
      const change = next - setUp;
      edges[1].push({ at: change, level: false });
      for (const k of [0, 1]) pulse(0, next + k * period);
      return {
        duration: next + 2.5 * period,
        lines: [line(first, false, edges[0]), line(second, true, edges[1])],
        marks: [...widthMarks(0), mark('direction before pulse', 1, change, next, needed.directionSetUp)],
      };
    }
    case 'clockwisePulses': {
      for (const k of [0, 1, 2]) pulse(0, lead + k * period);
      const next = lead + 2 * period + width + Math.max(sent.directionSetUp, 0);
      for (const k of [0, 1]) pulse(1, next + k * period);
      return {
        duration: next + 2.5 * period,
        lines: [line(first, false, edges[0]), line(second, false, edges[1])],
        marks: [
          ...widthMarks(0),
          mark('from plus to minus pulses', 1, lead + 2 * period + width, next, needed.directionSetUp),
        ],
      };
    }
    case 'quadrature': {
      // A rises, B rises, A falls; then back: A rises, B falls.
      edges[0].push({ at: lead, level: true }, { at: lead + 2 * period, level: false });
      edges[1].push({ at: lead + period, level: true });
      edges[0].push({ at: turn, level: true });
      edges[1].push({ at: turn + period, level: false });
      return {
        duration: turn + 2.5 * period,
        lines: [line(first, false, edges[0]), line(second, false, edges[1])],
        marks: [mark('level', 0, lead, lead + 2 * period, needed.minimumPulseWidth)],
      };
    }
  }
}

const line = (name: string, start: boolean, edges: readonly Edge[]): TimingLine => ({ name, start, edges });
