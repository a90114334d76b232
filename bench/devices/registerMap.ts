import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { RegisterType } from '@kavrid/core/drive';
import Papa from 'papaparse';

/** A parameter as the device itself keeps it: raw values, addresses of its copies. */
export interface DeviceParameter {
  readonly key: string;
  readonly name: string;
  /** CiA 402 object as the map writes it: `0x6065`, `0x6099:01`; empty: none. */
  readonly object: string;
  readonly type: RegisterType;
  readonly scale: number;
  readonly minimum: number;
  readonly maximum: number;
  readonly factory: number;
  /** Raw values it takes, where it takes only some. */
  readonly options: readonly number[] | undefined;
  readonly waitsForRestart: boolean;
  readonly address: number;
  readonly running: number;
  /** Absent where the drive does not let its stored copy be read. */
  readonly stored: number | undefined;
  readonly factoryAddress: number;
}

export interface DeviceRegister {
  readonly key: string;
  readonly name: string;
  readonly object: string;
  readonly type: RegisterType;
  readonly address: number;
}

/** Where a device publishes its register map. */
export const mapPath = (device: string): string => fileURLToPath(new URL(`./${device}/${device}.csv`, import.meta.url));

export interface RegisterMap {
  readonly parameters: readonly DeviceParameter[];
  readonly registers: readonly DeviceRegister[];
}

/** The register map that the device publishes is also what it works by, so the two cannot differ. */
export function readRegisterMap(path: string | URL): RegisterMap {
  const { data } = Papa.parse<Record<string, string>>(readFileSync(path, 'utf8'), {
    header: true,
    skipEmptyLines: true,
  });
  const type = (row: Record<string, string>) => row.type as RegisterType;
  return {
    registers: data
      .filter((row) => row.kind === 'register')
      .map((row) => ({
        key: row.key ?? '',
        name: inWords(row.key ?? ''),
        object: row.object ?? '',
        type: type(row),
        address: Number(row.address),
      })),
    parameters: data
      .filter((row) => row.kind === 'parameter')
      .map((row) => {
        const scale = Number(row.scale);
        const raw = (text: string | undefined) => Math.round(Number(text) / scale);
        return {
          key: row.key ?? '',
          name: row.label ?? '',
          object: row.object ?? '',
          type: type(row),
          scale,
          minimum: raw(row.minimum),
          maximum: raw(row.maximum),
          factory: raw(row.factory),
          options: row.choices ? row.choices.split(';').map((each) => Number.parseInt(each)) : undefined,
          waitsForRestart: row.takesEffect === 'after restart',
          address: Number(row.address),
          running: Number(row.running),
          stored: row.stored ? Number(row.stored) : undefined,
          factoryAddress: Number(row.factoryAddress),
        };
      }),
  };
}

/** `homingSpeed` as “Homing speed”. */
const inWords = (key: string): string => {
  const words = key.replace(/([A-Z])/g, ' $1').toLowerCase();
  return words.charAt(0).toUpperCase() + words.slice(1);
};
