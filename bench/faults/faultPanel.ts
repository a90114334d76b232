import { PlainPart } from '../devices/plainPart.ts';
import { RegisterCells, type PlainCell } from '../devices/registerCells.ts';
import { readRegisterMap } from '../devices/registerMap.ts';
import { benchFaults, benchHands, type FaultyBench } from './benchFaults.ts';

export const faultMapPath = new URL('./faults.csv', import.meta.url);

const switches = { ...benchHands, ...benchFaults };
type SwitchId = keyof typeof switches;

/** The bench's own unit: a register for each hand and each fault, 1 while it is there. */
class FaultPanel extends PlainPart {
  readonly #bench: FaultyBench;
  readonly #on = new Set<SwitchId>();

  constructor(bench: FaultyBench) {
    super();
    this.#bench = bench;
  }

  #set(id: SwitchId, value: number): boolean {
    if (value !== 0 && value !== 1) return false;
    const isOn = value === 1;
    if (isOn === this.#on.has(id)) return true;
    switches[id].set(this.#bench, isOn);
    if (isOn) this.#on.add(id);
    else this.#on.delete(id);
    return true;
  }

  cells(): Readonly<Record<string, PlainCell>> {
    const ids = Object.keys(switches) as SwitchId[];
    return Object.fromEntries(
      ids.map((id) => [id, { read: () => (this.#on.has(id) ? 1 : 0), write: (value: number) => this.#set(id, value) }]),
    );
  }
}

export const makeFaultPanel = (bench: FaultyBench): RegisterCells =>
  new RegisterCells({
    device: new FaultPanel(bench),
    map: readRegisterMap(faultMapPath),
    memory: {},
    identity: { kind: 0x4201, firmware: 0x00010000 },
  });
