import { connect, type Socket } from 'node:net';
import ModbusRTU from 'modbus-serial';
import { reasonOf } from '../reasonOf.ts';
import type { ModbusRequest, Transport, TransportAnswer } from './transport.ts';

/** ms without an answer after which a request has failed. A closed connection is known at once; this is for silence. */
export const tcpAnswerTime = 800;
/** ms in which a connection must stand */
const connectTime = 3000;

type Callback = (error: Error | null, data?: { readonly data?: readonly number[] }) => void;
/** The frames of modbus-serial, without its own queue and timers. */
interface Framer {
  open(done: (error?: Error) => void): void;
  writeFC3(unit: number, address: number, words: number, done: Callback): void;
  writeFC4(unit: number, address: number, words: number, done: Callback): void;
  writeFC6(unit: number, address: number, word: number, done: Callback): void;
  writeFC16(unit: number, address: number, words: readonly number[], done: Callback): void;
  connectTCP(host: string, options: { readonly socket: Socket }): Promise<void>;
}

/** A Modbus TCP connection. @throws Error when there is no response at the address within 3 s */
export async function connectTcp(host: string, port: number, signal: AbortSignal): Promise<Transport> {
  const socket = await openSocket(host, port, signal);
  const framer = new ModbusRTU() as unknown as Framer;
  await framer.connectTCP(host, { socket });
  let gone: (because: string) => void = () => undefined;
  socket.on('error', (error) => gone(reasonOf(error)));
  socket.on('close', () => gone('the connection was closed'));
  return {
    ...fullDuplex,
    send: (unit, request, answered) => frame(framer, unit, request, (error, data) => answered(answerOf(error, data))),
    onClose: (listener) => void (gone = listener),
    reset: () => void socket.resetAndDestroy(),
    end: () => void socket.destroySoon(),
  };
}

/** What a TCP connection has of {@link Transport} by its nature: answers find their requests by their number. */
export const fullDuplex = {
  isHalfDuplex: false,
  isReady: true,
  onReady: () => undefined,
  answerTime: () => tcpAnswerTime,
  giveUp: () => undefined,
} as const;

function frame(framer: Framer, unit: number, request: ModbusRequest, done: Callback): void {
  if (request.kind === 'read')
    return request.function === 4
      ? framer.writeFC4(unit, request.address, request.words, done)
      : framer.writeFC3(unit, request.address, request.words, done);
  const [first = 0] = request.words;
  if (request.words.length === 1) return framer.writeFC6(unit, request.address, first, done);
  framer.writeFC16(unit, request.address, request.words, done);
}

/** Bad frames count as no answer: an exception of code 0, which no device sends. */
function answerOf(error: Error | null, data?: { readonly data?: readonly number[] }): TransportAnswer {
  if (!error) return { kind: 'answered', words: data?.data ?? [] };
  return { kind: 'exception', code: (error as { modbusCode?: number }).modbusCode ?? 0 };
}

function openSocket(host: string, port: number, signal: AbortSignal): Promise<Socket> {
  return new Promise((resolve, reject) => {
    const socket = connect({ host, port, noDelay: true });
    const fail = (error: Error) => {
      socket.destroy();
      reject(error);
    };
    const timer = setTimeout(() => fail(new Error('it does not respond within 3 s')), connectTime);
    const aborted = () => fail(new Error('given up'));
    signal.addEventListener('abort', aborted);
    socket.once('error', fail);
    socket.once('close', () => clearTimeout(timer));
    socket.once('connect', () => {
      clearTimeout(timer);
      signal.removeEventListener('abort', aborted);
      socket.off('error', fail);
      resolve(socket);
    });
  });
}
