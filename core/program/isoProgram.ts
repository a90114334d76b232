import { numeral, remark, type ProgramMove, type ProgramText } from './programMove.ts';

/** Words of ISO 6983-1: units, and the letter of a linear or a rotary axis. */
const words: Readonly<Record<string, { readonly unit: string; readonly letter: string }>> = {
  mm: { unit: 'G21', letter: 'X' },
  in: { unit: 'G20', letter: 'X' },
  deg: { unit: 'G21', letter: 'A' },
};

/**
 * The move as a program of ISO 6983-1: incremental (G91), feed per minute (G94), straight lines (G1), dwells (G4) in seconds, end (M30).
 * The standard has no word for the acceleration, nor one unit for a dwell: both are the controller's.
 */
export function isoProgram({ name, unit, distance, speed, acceleration, dwell, repeats }: ProgramMove): ProgramText {
  const word = words[unit];
  if (!word) return { because: `ISO 6983 has no word for lengths in ${unit}: use the IEC 61131-3 text.` };
  const feed = numeral(60 * speed);
  const move = (way: number): readonly string[] => [
    `G1 ${word.letter}${numeral(way)} F${feed}`,
    ...(dwell > 0 ? [`G4 P${numeral(dwell)}`] : []),
  ];
  const blocks = [
    `${word.unit} G91 G94`,
    ...Array.from({ length: repeats }, () => [...move(distance), ...move(-distance)]).flat(),
    'M30',
  ];
  const lines = [
    '%',
    `(${remark(name)}: ${repeats} times ${numeral(distance)} ${unit} towards plus and back)`,
    `(Set at the controller: acceleration ${numeral(acceleration)} ${unit} per s squared)`,
    ...blocks.map((block, k) => `N${10 * (k + 1)} ${block}`),
    '%',
  ];
  return {
    text: `${lines.join('\n')}\n`,
    notes: [
      `The axis letter is ${word.letter}; change it to that of your controller.`,
      ...(dwell > 0
        ? ['G4 P is read in seconds by some controllers and in milliseconds by others: check it first.']
        : []),
    ],
  };
}
