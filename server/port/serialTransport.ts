import type { LineAddress } from '@kavrid/core/procedure';
import { exchangeTime, silence } from '@kavrid/core/signal';
import { SerialPort } from 'serialport';
import { readRtuAnswer, rtuRequest } from './rtuFrame.ts';
import type { ModbusRequest, Transport, TransportAnswer } from './transport.ts';

type SerialAddress = Extract<LineAddress, { kind: 'serial' }>;

/** ms that a line is listened to before anything is sent: another master polls more often than that */
const listenTime = 400;
/** ms without a byte after which what came late is over */
const drainTime = 50;
/** Bytes that nobody asked for: fewer are noise, more are another master's. */
const foreignBytes = 4;
/** s that a device may take to answer, and that an adapter may hold bytes back, each way */
const deviceTime = 0.1;
const adapterTime = 0.016;

const otherMaster = 'another master transmits on this line; a serial line has only one. Nothing is sent while it does';

/** What is used of a serial port; tests put a pair of their own here. */
export type BytePort = Pick<SerialPort, 'write' | 'on' | 'close' | 'isOpen' | 'flush'>;

const codeOf = (request: ModbusRequest) =>
  request.kind === 'read' ? request.function : request.words.length === 1 ? 6 : 16;

/** ms after which a request over a serial line has failed. */
export const serialAnswerTime = (address: SerialAddress, request: ModbusRequest): number => {
  const registers = request.kind === 'read' ? request.words : request.words.length;
  const message = { functionCode: codeOf(request), registers, answerDelay: deviceTime + 2 * adapterTime } as const;
  return Math.ceil(1000 * exchangeTime(address, message));
};

export interface SerialOptions {
  readonly open?: (address: SerialAddress) => Promise<BytePort>;
  /** Times what an answer may take. */
  readonly patience?: number;
}

/**
 * Modbus RTU over a serial port. One request at a time; a frame ends by its length. The port is listened to before anything is
 * sent, and whenever bytes come that nobody asked for, somebody else is the master here: the line is given up.
 * @throws Error when the port cannot be opened, or is in use on the line
 */
export async function connectSerial(
  address: SerialAddress,
  signal: AbortSignal,
  { open = openPort, patience = 1 }: SerialOptions = {},
): Promise<Transport> {
  const port = await open(address);
  const line = new RtuLine(address, port, patience);
  await new Promise((resolve) => setTimeout(resolve, listenTime));
  if (signal.aborted || line.isForeign) {
    line.reset();
    throw new Error(line.isForeign ? otherMaster : 'given up');
  }
  line.begin();
  return line;
}

/** A line is listened to first; then it is free, awaits an answer, or waits until late bytes and the silence between frames are over. */
type State = 'listening' | 'ready' | 'pending' | 'draining';

interface Pending {
  readonly unit: number;
  readonly request: ModbusRequest;
  readonly answered: (answer: TransportAnswer) => void;
}

class RtuLine implements Transport {
  readonly isHalfDuplex = true;
  readonly #address: SerialAddress;
  readonly #port: BytePort;
  readonly #patience: number;
  #received = Buffer.alloc(0);
  #pending: Pending | undefined;
  #state: State = 'listening';
  #unasked = 0;
  #timer: NodeJS.Timeout | undefined;
  #whenReady: (() => void) | undefined;
  #gone: (because: string) => void = () => undefined;

  constructor(address: SerialAddress, port: BytePort, patience: number) {
    this.#address = address;
    this.#port = port;
    this.#patience = patience;
    port.on('data', (bytes: Buffer) => this.#take(bytes));
    port.on('error', (error: Error) => this.#lose(error.message));
    port.on('close', () => this.#lose('the serial port was closed'));
  }

  get isForeign(): boolean {
    return this.#unasked >= foreignBytes;
  }

  get isReady(): boolean {
    return this.#state === 'ready';
  }

  begin(): void {
    this.#become('ready');
  }

  answerTime(request: ModbusRequest): number {
    return this.#patience * serialAnswerTime(this.#address, request);
  }

  onReady(ready: () => void): void {
    this.#whenReady = ready;
  }

  onClose(gone: (because: string) => void): void {
    this.#gone = gone;
  }

  send(unit: number, request: ModbusRequest, answered: (answer: TransportAnswer) => void): void {
    this.#received = Buffer.alloc(0);
    this.#pending = { unit, request, answered };
    this.#become('pending');
    this.#port.write(rtuRequest(unit, request));
  }

  /** What comes now comes too late: without a transaction number it could pass for the next answer. */
  giveUp(): void {
    this.#pending = undefined;
    this.#drain();
  }

  reset(): void {
    this.#gone = () => undefined;
    this.#become('listening');
    if (this.#port.isOpen) this.#port.flush(() => this.#port.close(() => undefined));
  }

  end(): void {
    this.#gone = () => undefined;
    this.#become('listening');
    if (this.#port.isOpen) this.#port.close(() => undefined);
  }

  #become(state: State): void {
    this.#state = state;
    clearTimeout(this.#timer);
    if (state !== 'ready') return;
    const ready = this.#whenReady;
    this.#whenReady = undefined;
    ready?.();
  }

  #take(bytes: Buffer): void {
    switch (this.#state) {
      case 'listening':
        this.#unasked += bytes.length;
        return;
      case 'ready':
        this.#unasked += bytes.length;
        if (this.isForeign) this.#lose(otherMaster);
        return;
      case 'draining':
        return this.#drain();
      case 'pending':
        return this.#answer(bytes);
    }
  }

  #answer(bytes: Buffer): void {
    const { unit, request, answered } = this.#pending ?? {};
    if (unit === undefined || !request || !answered) return;
    this.#received = Buffer.concat([this.#received, bytes]);
    const read = readRtuAnswer(unit, request, this.#received);
    if (read === undefined) return;
    if (read === 'strange') {
      // Its time-out ends it, when the line has become quiet.
      this.#received = Buffer.alloc(0);
      return;
    }
    this.#pending = undefined;
    this.#unasked = 0;
    if (this.#received.length > read.length) this.#drain();
    else {
      this.#become('draining');
      this.#timer = setTimeout(() => this.#become('ready'), Math.ceil(1000 * silence(this.#address)));
    }
    answered(read.answer);
  }

  #drain(): void {
    this.#become('draining');
    this.#timer = setTimeout(() => this.#become('ready'), drainTime);
  }

  #lose(because: string): void {
    const gone = this.#gone;
    this.reset();
    gone(because);
  }
}

function openPort({ path, baud, parity, stopBits }: SerialAddress): Promise<BytePort> {
  return new Promise((resolve, reject) => {
    const port = new SerialPort({ path, baudRate: baud, dataBits: 8, parity, stopBits, autoOpen: false });
    port.open((error) => (error ? reject(new Error(openProblem(path, error))) : resolve(port)));
  });
}

function openProblem(path: string, { message }: Error): string {
  if (/lock|busy|access denied/i.test(message)) return `${path} is in use by another program`;
  if (/no such file/i.test(message)) return `there is no serial port ${path}`;
  if (/permission/i.test(message))
    return `${path} may not be opened; the user of Kavrid has to be in the group “dialout”`;
  return `${path} cannot be opened: ${message}`;
}
