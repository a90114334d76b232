import './withoutCodeGeneration.ts';
import type { RegisterType } from '@kavrid/core/drive';
import Papa from 'papaparse';
import { z } from 'zod';

/** A register of a part of the bench that is no drive, as that part publishes it. */
export interface BenchRegister {
  readonly key: string;
  readonly label: string;
  readonly group: string;
  readonly type: RegisterType;
  readonly scale: number;
  readonly unit: string;
  readonly address: number;
}

const row = z.object({
  kind: z.literal('register'),
  key: z.string().min(1),
  label: z.string(),
  group: z.string(),
  type: z.enum(['u16', 'i16', 'u32', 'i32']),
  scale: z.coerce.number(),
  unit: z.string(),
  address: z.coerce.number().int().min(0).max(65535),
});

/** An input of a part, by its bit in the registers `inputStates` and `inputLevels`. */
export interface BenchInput {
  readonly key: string;
  readonly label: string;
  readonly bit: number;
}

const inputRow = z.object({
  kind: z.literal('input'),
  key: z.string().min(1),
  label: z.string(),
  bits: z.coerce.number().int().min(0).max(31),
});

/** What a part of the bench has. */
export interface BenchMap {
  readonly name: string;
  readonly registers: ReadonlyMap<string, BenchRegister>;
  readonly inputs: readonly BenchInput[];
}

/** @throws ZodError where a row of a register or an input cannot be read */
export function readBenchMap(csv: string): BenchMap {
  const { data } = Papa.parse<Record<string, string>>(csv, { header: true, skipEmptyLines: true });
  const of = (wanted: string) => data.filter(({ kind }) => kind === wanted);
  return {
    name: of('profile').find(({ key }) => key === 'name')?.label ?? '',
    registers: new Map(
      of('register').map((each) => {
        const { kind: _, ...register } = row.parse(each);
        return [register.key, register];
      }),
    ),
    inputs: of('input').map((each) => {
      const { key, label, bits } = inputRow.parse(each);
      return { key, label, bit: bits };
    }),
  };
}
