/** What a device says by its refusal (Modbus Application Protocol V1.1b3, 7). */
const meanings: Readonly<Record<number, string>> = {
  1: 'it does not know this function',
  2: 'it has no such register',
  3: 'it does not take this value now',
  4: 'it failed while carrying it out',
  5: 'it is still working on it',
  6: 'it is busy',
  10: 'the gateway has no path to it',
  11: 'no device answers behind the gateway',
};

/** Why a request was not carried out, as its sentence goes on. */
export const exceptionWords = (code: number): string =>
  `the drive refused the request: ${meanings[code] ?? 'for a reason of its own'} (Modbus exception ${code})`;
