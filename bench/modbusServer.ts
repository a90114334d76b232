import { ServerTCP } from 'modbus-serial';
import type { DeviceRegisters, RegisterError } from './deviceRegisters.ts';

const exceptionCodes: Readonly<Record<RegisterError, number>> = { 'illegal address': 2, 'illegal value': 3, busy: 6 };
const exception = (error: RegisterError) => Object.assign(new Error(error), { modbusErrorCode: exceptionCodes[error] });

export interface RunningServer {
  readonly port: number;
  readonly close: () => Promise<void>;
}

/** Serves the registers over Modbus TCP on loopback, and lets the device's time pass with the clock. */
export function serveModbus(registers: DeviceRegisters, port: number): Promise<RunningServer> {
  const read = (address: number, length: number): number[] => {
    const words = registers.read(address, length);
    if (typeof words === 'string') throw exception(words);
    return [...words];
  };
  const write = (address: number, words: readonly number[]): void => {
    const error = registers.write(address, words);
    if (error) throw exception(error);
  };
  let last = performance.now();
  const clock = setInterval(() => {
    const now = performance.now();
    // A stalled computer does not catch up: the device's time, its watchdog's too, rather runs slow than jumps.
    registers.device.advance(Math.min(0.016, (now - last) / 1000));
    last = now;
  }, 4);
  const server = new ServerTCP(
    {
      getHoldingRegister: (address: number) => read(address, 1)[0] ?? 0,
      getMultipleHoldingRegisters: (address: number, length: number) => read(address, length),
      getInputRegister: (address: number) => read(address, 1)[0] ?? 0,
      getMultipleInputRegisters: (address: number, length: number) => read(address, length),
      setRegister: (address: number, value: number) => write(address, [value]),
      setRegisterArray: (address: number, values: number[]) => write(address, values),
    },
    { host: '127.0.0.1', port, unitID: 1 },
  );
  return new Promise((resolve, reject) => {
    server.on('serverError', (error) => {
      clearInterval(clock);
      reject(error instanceof Error ? error : new Error(String(error)));
    });
    server.on('initialized', () => {
      resolve({
        port,
        close: () =>
          new Promise((done) => {
            clearInterval(clock);
            server.close(() => done());
            for (const socket of server.socks.keys()) socket.destroy();
          }),
      });
    });
  });
}
