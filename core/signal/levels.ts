import { all, map, type Outcome } from '../sheet/index.ts';
import { resistorFor, type ResistorChoice } from './seriesResistor.ts';

/** How a controller drives a line. Sinking and sourcing name the current at the controller's terminal. */
export const outputKinds = [
  'differential',
  'push-pull',
  'open collector, sinking',
  'open collector, sourcing',
] as const;
export type OutputKind = (typeof outputKinds)[number];

/** What a drive has behind its pulse terminals. */
export type PulseInputKind = 'optocoupler' | 'receiver';

/** Both ends of a pulse line and what lies between. */
export interface LineCircuit {
  readonly output: OutputKind;
  /** V; of a differential output between its two wires */
  readonly outputVoltage: Outcome<number>;
  /** V lost in the output when it conducts */
  readonly outputDrop: Outcome<number>;
  /** A, the rated current of the output; undefined where it is not given */
  readonly outputCurrent: number | undefined;
  readonly inputKind: PulseInputKind;
  /** V across the lamp of the optocoupler */
  readonly forwardVoltage: Outcome<number>;
  /** Ω in the drive, in series with it; 0 where there is none */
  readonly inputResistance: Outcome<number>;
  /** A */
  readonly minimumCurrent: Outcome<number>;
  readonly maximumCurrent: Outcome<number>;
  /** Ω, all resistors in cable and terminals together */
  readonly cableResistance: number;
}

/** A wire between the two ends. */
export interface LineWire {
  readonly from: string;
  readonly to: string;
}

export type LineFit =
  | 'fits'
  /** Harms the input or the output. */
  | 'ruinous'
  /** Too little current: pulses are lost. */
  | 'too weak'
  /** The two kinds cannot be joined by wires and a resistor. */
  | 'does not fit';

/** How a line is wired, what flows, and whether that is right. */
export interface LineResult {
  readonly fit: LineFit;
  readonly wires: readonly LineWire[];
  /** Where the current goes, in its order; empty where none flows all the way. */
  readonly path: readonly string[];
  /** A; undefined where voltage alone counts */
  readonly current: number | undefined;
  /** The resistor to put in the line beside what is there, where one is wanted. */
  readonly resistor: ResistorChoice | undefined;
  readonly because: string;
}

/** The wires of a line by the kinds of its ends; resistors are drawn in the first one. */
export function wiresOf(output: OutputKind): readonly LineWire[] {
  switch (output) {
    case 'differential':
      return [
        { from: 'controller, line +', to: 'drive, line +' },
        { from: 'controller, line −', to: 'drive, line −' },
        { from: 'controller, 0 V', to: 'drive, signal 0 V' },
      ];
    case 'push-pull':
    case 'open collector, sourcing':
      return [
        { from: 'controller, output', to: 'drive, line +' },
        { from: 'controller, 0 V', to: 'drive, line −' },
      ];
    case 'open collector, sinking':
      return [
        { from: 'supply of the outputs, +', to: 'drive, line +' },
        { from: 'controller, output', to: 'drive, line −' },
        { from: 'controller, 0 V', to: 'supply of the outputs, 0 V' },
      ];
  }
}

function pathOf(output: OutputKind, withResistor: boolean): readonly string[] {
  const lamp = ['drive line +', 'optocoupler', 'drive line −'];
  const resistor = withResistor ? ['resistor'] : [];
  switch (output) {
    case 'differential':
      return ['controller line +', ...resistor, ...lamp, 'controller line −'];
    case 'push-pull':
    case 'open collector, sourcing':
      return ['supply +', 'out of the controller’s output', ...resistor, ...lamp, '0 V'];
    case 'open collector, sinking':
      return ['supply +', ...resistor, ...lamp, 'into the controller’s output', '0 V'];
  }
}

/** A differential receiver needs 0.2 V between its two wires (TIA/EIA-422-B); a single wire has no reference. */
const receiverThreshold = 0.2;

/** Computes a line: I = (V − Vdrop − Vf) / (Rs + Rint), and compares it with the current range of the input. */
export function lineResult(circuit: LineCircuit): Outcome<LineResult> {
  const { output, inputKind } = circuit;
  const wires = wiresOf(output);
  if (inputKind === 'receiver') {
    return map(circuit.outputVoltage, (volts): LineResult => {
      const plain = { wires, path: [], current: undefined, resistor: undefined };
      if (output !== 'differential')
        return {
          ...plain,
          fit: 'does not fit',
          because: 'a differential receiver compares two wires, but this output drives only one',
        };
      return volts < receiverThreshold
        ? { ...plain, fit: 'too weak', because: `the receiver needs ${receiverThreshold} V between its wires` }
        : { ...plain, fit: 'fits', because: 'a line driver and a differential receiver match' };
    });
  }
  const numbers = all<[number, number, number, number, number, number]>(
    circuit.outputVoltage,
    circuit.outputDrop,
    circuit.forwardVoltage,
    circuit.inputResistance,
    circuit.minimumCurrent,
    circuit.maximumCurrent,
  );
  return map(numbers, ([volts, drop, forward, own, least, most]): LineResult => {
    const left = volts - drop - forward;
    const ohms = own + circuit.cableResistance;
    const carried = circuit.outputCurrent ?? Infinity;
    const resistor = resistorFor(left, ohms, least, Math.min(most, carried));
    const shared = { wires, path: pathOf(output, circuit.cableResistance > 0), resistor };
    if (left <= 0)
      return {
        ...shared,
        fit: 'too weak',
        current: 0,
        because: `the output and the optocoupler drop ${show(drop + forward)} V, so nothing is left of ${show(volts)} V`,
      };
    if (ohms === 0)
      return {
        ...shared,
        fit: 'ruinous',
        current: undefined,
        because: `there is no resistance for the remaining ${show(left)} V: nothing limits the current, and the optocoupler burns out`,
      };
    const current = left / ohms;
    const amount = `the current is ${show(current * 1000)} mA`;
    if (current > most * 1.0001)
      return {
        ...shared,
        fit: 'ruinous',
        current,
        because: `${amount}; the input is rated for ${show(most * 1000)} mA`,
      };
    if (current > carried * 1.0001)
      return {
        ...shared,
        fit: 'ruinous',
        current,
        because:
          `${amount}; the controller’s output is rated for ${show(carried * 1000)} mA` +
          (carried < least ? `, less than the ${show(least * 1000)} mA that the input needs` : ''),
      };
    if (current < least * 0.9999)
      return {
        ...shared,
        fit: 'too weak',
        current,
        because:
          `${amount}; the input needs ${show(least * 1000)} mA` +
          (own > 0 && circuit.cableResistance > 0
            ? ': the drive already has a resistor, and the one in the cable adds to it'
            : ''),
      };
    return {
      ...shared,
      fit: 'fits',
      current,
      because: `${amount}, between ${show(least * 1000)} and ${show(most * 1000)} mA`,
    };
  });
}

const show = (value: number) => String(Number(value.toPrecision(3)));
