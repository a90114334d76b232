/** A serial line as Modbus uses it (Modbus over Serial Line V1.02). */
export interface SerialLine {
  readonly baud: number;
  readonly parity: 'none' | 'even' | 'odd';
  readonly stopBits: 1 | 2;
}

/** A message that is polled: function 3 or 4 reads, 6 writes one register, 16 writes several. */
export interface PolledMessage {
  readonly functionCode: 3 | 4 | 6 | 16;
  /** Registers read or written; 1 for function 6. */
  readonly registers: number;
  /** s that the device takes to answer, at the most */
  readonly answerDelay: number;
}

/** s of one character: start bit, eight data bits, parity, stop bits. Eleven bits by the specification. */
export const characterTime = ({ baud, parity, stopBits }: SerialLine): number =>
  (1 + 8 + (parity === 'none' ? 0 : 1) + stopBits) / baud;

/** The specification asks for eleven bits per character: two stop bits without parity. */
export const isElevenBits = ({ parity, stopBits }: SerialLine): boolean => (parity === 'none' ? 2 : 1) === stopBits;

/** s of silence between two frames: 3.5 characters, and 1.75 ms above 19 200 baud. */
export const silence = (line: SerialLine): number => (line.baud > 19200 ? 0.00175 : 3.5 * characterTime(line));

/** Characters of request and answer, with address and CRC. */
export function frameLengths({ functionCode, registers }: PolledMessage): readonly [number, number] {
  switch (functionCode) {
    case 3:
    case 4:
      return [8, 5 + 2 * registers];
    case 6:
      return [8, 8];
    case 16:
      return [9 + 2 * registers, 8];
  }
}

/** s from the start of a request until the next one may begin. */
export function exchangeTime(line: SerialLine, message: PolledMessage): number {
  const [request, answer] = frameLengths(message);
  return (request + answer) * characterTime(line) + 2 * silence(line) + message.answerDelay;
}

export interface BusLoad {
  /** s for all messages once */
  readonly round: number;
  /** Share of the period that is taken; above 1 the period cannot be kept. */
  readonly load: number;
  readonly isPossible: boolean;
  /** s, the least time-out that one late answer does not trip */
  readonly leastTimeOut: number;
}

/** A fifth more than the period, or one exchange more, whichever is longer (common practice: a period of 25 ms needs a time-out above 30 ms). */
const timeOutMargin = 1.2;

/** Whether messages can be polled in a period, and which time-out to set at the device. @param period s */
export function busLoad(line: SerialLine, messages: readonly PolledMessage[], period: number): BusLoad {
  const times = messages.map((message) => exchangeTime(line, message));
  const round = times.reduce((sum, each) => sum + each, 0);
  const real = Math.max(period, round);
  return {
    round,
    load: round / period,
    isPossible: round <= period,
    leastTimeOut: Math.max(timeOutMargin * real, real + Math.max(0, ...times)),
  };
}

/** Turns and s of a spindle from the loss of its link to rest, on a straight ramp. @param speed rpm @param ramp s from that speed to rest */
export const lostLink = (
  speed: number,
  timeOut: number,
  ramp: number,
): { readonly time: number; readonly turns: number } => ({
  time: timeOut + ramp,
  turns: (speed / 60) * (timeOut + ramp / 2),
});
