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
  readonly address: number;
}

const row = z.object({
  kind: z.literal('register'),
  key: z.string().min(1),
  label: z.string(),
  group: z.string(),
  type: z.enum(['u16', 'i16', 'u32', 'i32']),
  scale: z.coerce.number(),
  address: z.coerce.number().int().min(0).max(65535),
});

/** The registers of a map, by key. @throws ZodError where a row of a register cannot be read */
export function readBenchMap(csv: string): ReadonlyMap<string, BenchRegister> {
  const { data } = Papa.parse<Record<string, string>>(csv, { header: true, skipEmptyLines: true });
  const registers = data.filter(({ kind }) => kind === 'register').map((each) => row.parse(each));
  return new Map(registers.map(({ kind: _, ...register }) => [register.key, register]));
}
