import type { BrushlessDevice } from '../devices/brushless/brushlessDevice.ts';
import { PlainPart } from '../devices/plainPart.ts';
import { keptCells, RegisterCells, type DeviceMemory, type PlainCell } from '../devices/registerCells.ts';
import { readRegisterMap } from '../devices/registerMap.ts';

export const pwmHostMapPath = new URL('./pwmHost.csv', import.meta.url);

/** Hundredths of a per cent of a whole duty cycle. */
const wholeDuty = 10_000;

/** A small board that sends a duty cycle and a voltage, and switches enable; it hears the alarm contact and nothing else. */
class PwmHost extends PlainPart {
  readonly #drive: BrushlessDevice;

  constructor(drive: BrushlessDevice) {
    super();
    this.#drive = drive;
  }

  cells(): Readonly<Record<string, PlainCell>> {
    const kept = keptCells();
    const drive = this.#drive;
    return {
      enable: kept('enable', (value) => {
        if (value !== 0 && value !== 1) return false;
        drive.outputs.set('controller: enable', value === 1);
        return true;
      }),
      duty: kept('duty', (value) => (value <= wholeDuty ? void (drive.line.sent = value / wholeDuty) : false)),
      volts: kept('volts', (thousandths) =>
        thousandths >= 0 && thousandths <= 10_000 ? void (drive.analog.sent = thousandths / 1000) : false,
      ),
      alarm: { read: () => (drive.state === 'fault' || drive.restarting ? 1 : 0) },
    };
  }
}

/** The board behind its registers, wired to a brushless controller. */
export const makePwmHost = (drive: BrushlessDevice, memory: DeviceMemory = {}): RegisterCells =>
  new RegisterCells({
    device: new PwmHost(drive),
    map: readRegisterMap(pwmHostMapPath),
    memory,
    identity: { kind: 0x4802, firmware: 0x00010000 },
  });
