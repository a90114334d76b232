import './withoutCodeGeneration.ts';
import {
  parameterRoles,
  spindleDriveRoles,
  type DriveParameter,
  type DriveProfile,
  type DriveRegister,
} from '@kavrid/core/drive';
import Papa from 'papaparse';
import { z } from 'zod';

const registerType = z.enum(['u16', 'i16', 'u32', 'i32']);
const address = z.coerce.number().int().min(0).max(65535);
const emptyAsAbsent = (value: unknown) => (value === '' ? undefined : value);
const number = z.preprocess(emptyAsAbsent, z.coerce.number<string>());

const profileRow = z.object({
  kind: z.literal('profile'),
  key: z.enum(['name', 'word order']),
  label: z.string().min(1),
});
const registerRow = z.object({
  kind: z.literal('register'),
  key: z.string().min(1),
  object: z.preprocess(emptyAsAbsent, z.string().optional()),
  type: registerType,
  scale: number,
  unit: z.string(),
  address,
});
const parameterRow = z.object({
  kind: z.literal('parameter'),
  key: z.string().min(1),
  label: z.string().min(1),
  group: z.string(),
  role: z.preprocess(emptyAsAbsent, z.enum([...parameterRoles, ...spindleDriveRoles]).optional()),
  object: z.preprocess(emptyAsAbsent, z.string().optional()),
  type: registerType,
  scale: number,
  unit: z.string(),
  minimum: number,
  maximum: number,
  factory: number,
  takesEffect: z.enum(['at once', 'after restart']),
  address,
  running: address,
  stored: address,
  factoryAddress: address,
  choices: z.string(),
  help: z.string(),
});
const row = z.discriminatedUnion('kind', [profileRow, registerRow, parameterRow]);

export type ProfileFileResult =
  | { readonly kind: 'profile'; readonly profile: DriveProfile }
  | { readonly kind: 'refused'; readonly problems: readonly string[] };

/** Registers without which Kavrid cannot work with a drive. */
const needed = ['controlword', 'statusword', 'modeOfOperation'];

/** Reads a register map: CSV with a header line; one row for each parameter or other register. */
export function readDriveProfile(csv: string): ProfileFileResult {
  const table = Papa.parse<Record<string, string>>(csv, { header: true, skipEmptyLines: true, comments: '#' });
  const problems = table.errors.slice(0, 20).map((error) => `Row ${(error.row ?? 0) + 2}: ${error.message}.`);
  let [name, wordOrder] = ['', 'high word first'];
  const parameters: DriveParameter[] = [];
  const registers: Record<string, DriveRegister> = {};
  const keys = new Set<string>();
  table.data.slice(0, 5000).forEach((raw, index) => {
    const parsed = row.safeParse(raw);
    const place = `Row ${index + 2}`;
    if (!parsed.success) {
      problems.push(
        ...parsed.error.issues.map((issue) => `${place}, ${issue.path.join('.') || 'row'}: ${issue.message}.`),
      );
      return;
    }
    if (parsed.data.kind === 'profile') {
      if (parsed.data.key === 'name') name = parsed.data.label;
      else wordOrder = parsed.data.label;
      return;
    }
    if (keys.has(parsed.data.key)) problems.push(`${place}: ${parsed.data.key} stands there twice.`);
    keys.add(parsed.data.key);
    if (parsed.data.kind === 'register') {
      const { kind: _, object, ...register } = parsed.data;
      registers[register.key] = object === undefined ? register : { ...register, object };
    } else parameters.push(parameterOf(parsed.data));
  });
  if (name === '') problems.push('There is no row “profile,name”.');
  if (wordOrder !== 'high word first' && wordOrder !== 'low word first')
    problems.push('The word order is “high word first” or “low word first”.');
  for (const key of needed) if (!registers[key]) problems.push(`The register ${key} is missing.`);
  return problems.length > 0
    ? { kind: 'refused', problems: problems.slice(0, 50) }
    : { kind: 'profile', profile: { name, wordOrder: wordOrder as DriveProfile['wordOrder'], parameters, registers } };
}

function parameterOf(data: z.infer<typeof parameterRow>): DriveParameter {
  const { kind: _, choices, role, object, ...rest } = data;
  const pairs = choices
    .split(';')
    .map((pair) => pair.split('='))
    .filter((pair): pair is [string, string] => pair.length === 2);
  return {
    ...rest,
    choices: Object.fromEntries(pairs.map(([raw, words]) => [raw.trim(), words.trim()])),
    ...(role === undefined ? {} : { role }),
    ...(object === undefined ? {} : { object }),
  };
}
