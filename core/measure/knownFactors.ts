/** A wrong factor that has a name, and where to look for it. */
export interface KnownFactor {
  /** measured / commanded */
  readonly factor: number;
  readonly cause: string;
}

/** Mistakes that every workshop makes (common practice). New ones are one entry. */
const common: readonly KnownFactor[] = [
  { factor: 4, cause: 'lines were taken for counts: quadrature gives four counts per line' },
  {
    factor: 1 / 4,
    cause: 'counts were taken for lines: the number already includes the four counts per line of quadrature',
  },
  { factor: 2, cause: 'a factor of two: both edges of a pulse counted, or a lead of two starts' },
  { factor: 1 / 2, cause: 'a factor of two: only every second edge counted, a diameter taken for a radius' },
  { factor: 10, cause: 'a decimal place: mm for cm, or a multiplier of ten' },
  { factor: 1 / 10, cause: 'a decimal place: cm for mm, or a multiplier of ten' },
  { factor: 25.4, cause: 'inches at one end, millimetres at the other' },
  { factor: 1 / 25.4, cause: 'millimetres at one end, inches at the other' },
  { factor: Math.PI, cause: 'a diameter taken for a circumference' },
  { factor: 1 / Math.PI, cause: 'a circumference taken for a diameter' },
  { factor: 60, cause: 'minutes taken for seconds' },
  { factor: 1 / 60, cause: 'seconds taken for minutes' },
];

/** How near a ratio must be to a factor to be called by its name. */
const nearness = 0.02;

/** The factors of an axis: the common ones and its own stages, each either way. */
export const factorsOf = (
  stages: readonly { readonly name: string; readonly ratio: number }[],
): readonly KnownFactor[] => [
  ...common,
  ...stages
    .filter(({ ratio }) => Math.abs(ratio - 1) > nearness)
    .flatMap(({ name, ratio }) => [
      { factor: ratio, cause: `the ratio of the ${name} is included although there is none, or included twice` },
      { factor: 1 / ratio, cause: `the ratio of the ${name} is left out` },
    ]),
];

/** The factor a ratio is nearest to, if it is near enough; one of the axis itself goes before a common one that is as near. */
export function recognise(ratio: number, factors: readonly KnownFactor[]): KnownFactor | undefined {
  const distance = ({ factor }: KnownFactor) => Math.abs(Math.log(Math.abs(ratio) / factor));
  const near = factors.filter((each) => distance(each) < nearness);
  return near.toReversed().sort((a, b) => distance(a) - distance(b))[0];
}
