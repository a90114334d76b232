import type { DeviceParameter } from './registerMap.ts';

/** What outlives a power cycle of the device. */
export interface StoredCopy {
  readonly values: Readonly<Record<string, number>>;
  readonly storeCount: number;
}

/** The copies of every parameter: as written, in effect, stored, as delivered. Raw values. */
export class ParameterStore {
  readonly #parameters: ReadonlyMap<string, DeviceParameter>;
  readonly written: Record<string, number> = {};
  readonly running: Record<string, number> = {};
  readonly stored: Record<string, number> = {};
  storeCount: number;

  constructor(parameters: readonly DeviceParameter[], kept: StoredCopy | undefined) {
    this.#parameters = new Map(parameters.map((parameter) => [parameter.key, parameter]));
    this.storeCount = kept?.storeCount ?? 0;
    for (const { key, factory } of parameters) this.stored[key] = kept?.values[key] ?? factory;
    this.restart();
  }

  /** The value in effect, in the parameter's unit. */
  value(key: string): number {
    return (this.running[key] ?? 0) * (this.#parameters.get(key)?.scale ?? 1);
  }

  /** @returns false when the value is outside its range or not among its options. */
  write(key: string, raw: number): boolean {
    const parameter = this.#parameters.get(key);
    if (!parameter || raw < parameter.minimum || raw > parameter.maximum) return false;
    if (parameter.options && !parameter.options.includes(raw)) return false;
    this.written[key] = raw;
    if (!parameter.waitsForRestart) this.running[key] = raw;
    return true;
  }

  store(): StoredCopy {
    Object.assign(this.stored, this.written);
    this.storeCount++;
    return { values: { ...this.stored }, storeCount: this.storeCount };
  }

  loadFactory(): void {
    for (const { key, factory } of this.#parameters.values()) this.write(key, factory);
  }

  restart(): void {
    Object.assign(this.written, this.stored);
    Object.assign(this.running, this.stored);
  }
}
