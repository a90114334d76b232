import { ServerTCP } from 'modbus-serial';
import type { BenchDevice, RegisterCells, RegisterError } from './registerCells.ts';

/** Modbus exception codes; 11 says that no device of that unit answers (Application Protocol V1.1b3, 7). */
const exceptionCodes: Readonly<Record<RegisterError | 'no such device', number>> = {
  'illegal address': 2,
  'illegal value': 3,
  busy: 6,
  'no such device': 11,
};
const exception = (error: keyof typeof exceptionCodes) =>
  Object.assign(new Error(error), { modbusErrorCode: exceptionCodes[error] });

export interface RunningServer {
  readonly port: number;
  readonly close: () => Promise<void>;
}

/** Which unit each device of the bench answers to. */
export const benchUnits = { servo: 1, spindle: 3 } as const;

/** A device as its client sees it. */
export type ServedDevice = Pick<RegisterCells, 'read' | 'write'> & { readonly device: Pick<BenchDevice, 'advance'> };

/** Serves devices over Modbus TCP on loopback, by their unit, and lets their time pass with the clock. */
export function serveModbus(devices: ReadonlyMap<number, ServedDevice>, port: number): Promise<RunningServer> {
  const at = (unit: number): ServedDevice => {
    const device = devices.get(unit);
    if (!device) throw exception('no such device');
    return device;
  };
  const read = (address: number, length: number, unit: number): number[] => {
    const words = at(unit).read(address, length);
    if (typeof words === 'string') throw exception(words);
    return [...words];
  };
  const write = (address: number, words: readonly number[], unit: number): void => {
    const error = at(unit).write(address, words);
    if (error) throw exception(error);
  };
  let last = performance.now();
  const clock = setInterval(() => {
    const now = performance.now();
    // A stalled computer does not catch up: the devices' time, their watchdogs' too, rather runs slow than jumps.
    const passed = Math.min(0.016, (now - last) / 1000);
    for (const { device } of devices.values()) device.advance(passed);
    last = now;
  }, 4);
  const server = new ServerTCP(
    {
      getHoldingRegister: (address: number, unit: number) => read(address, 1, unit)[0] ?? 0,
      getMultipleHoldingRegisters: (address: number, length: number, unit: number) => read(address, length, unit),
      getInputRegister: (address: number, unit: number) => read(address, 1, unit)[0] ?? 0,
      getMultipleInputRegisters: (address: number, length: number, unit: number) => read(address, length, unit),
      setRegister: (address: number, value: number, unit: number) => write(address, [value], unit),
      setRegisterArray: (address: number, values: number[], unit: number) => write(address, values, unit),
    },
    // 255 lets every unit through to the handlers above.
    { host: '127.0.0.1', port, unitID: 255 },
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
