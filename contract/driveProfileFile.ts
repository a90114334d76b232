import './withoutCodeGeneration.ts';
import {
  homeOffsetMeanings,
  inputRoles,
  isStoredMoveRole,
  outputRoles,
  parameterRoles,
  rangeOf,
  softLimitOrigins,
  spindleDriveRoles,
  watchdogFeeds,
  wordsOf,
  type BitField,
  type DriveInput,
  type DriveOutput,
  type DriveParameter,
  type DriveProfile,
  type DriveRegister,
  type HomeOffsetMeaning,
  type HomingForm,
  type SoftLimitOrigin,
  type StoredMoveRole,
  type WatchdogFeed,
} from '@kavrid/core/drive';
import {
  homingFailures,
  isHomingFailure,
  isHomingMethod,
  type HomingFailure,
  type HomingMethod,
} from '@kavrid/core/homing';
import Papa from 'papaparse';
import { z } from 'zod';
import { profileOverlaps } from './profileOverlaps.ts';

export type ProfileFileResult =
  | { readonly kind: 'profile'; readonly profile: DriveProfile }
  | { readonly kind: 'refused'; readonly problems: readonly string[] };

/** Registers without which Kavrid cannot work with a drive. */
const needed = ['controlword', 'statusword', 'modeOfOperation'];
const profileFacts = [
  'name',
  'word order',
  'watchdog',
  'firmware',
  'unlock code',
  'traced inputs',
  'home offset',
  'soft limits',
  'homing methods',
  'homing failures',
] as const;
const wordOrders = ['high word first', 'low word first'] as const;
const mostRows = 5000;
const mostProblems = 50;

const registerType = z.enum(['u16', 'i16', 'u32', 'i32'], { error: 'use u16, i16, u32 or i32' });
const filled = z.string().min(1, 'this cell is empty');
const optional = z.string().transform((text) => (text === '' ? undefined : text));
const address = filled
  .regex(/^(\d+|0x[0-9a-fA-F]+)$/, 'use a whole address from 0 to 65535')
  .transform(Number)
  .refine((value) => value <= 65535, 'an address is at most 65535');
const optionalAddress = z.union([z.literal('').transform(() => undefined), address]);
/** Modbus function codes that read: holding and input registers. */
const readFunction = z
  .union([z.literal(''), z.literal('3'), z.literal('4')], { error: 'use function 3 (holding) or 4 (input)' })
  .transform((text) => (text === '4' ? 4 : undefined));
const bits = z.union([
  z.literal('').transform(() => undefined),
  z
    .string()
    .regex(/^\d{1,2}(-\d{1,2})?$/, 'bits are written as 3 or 4-7')
    .transform((text): BitField => {
      const [from = 0, to = from] = text.split('-').map(Number);
      return { from, to };
    })
    .refine(({ from, to }) => from <= to && to <= 31, 'the first bit is at most the last, which is at most 31'),
]);

/** A number as the file writes it: with a decimal point, or, where semicolons part the cells, with a decimal comma too. */
const numberIn = (decimalComma: boolean) =>
  filled.transform((text, context) => {
    const plain = decimalComma ? text.replace(/^([+-]?\d+),(\d+)/, '$1.$2') : text;
    if (/^[+-]?\d+(\.\d+)?([eE][+-]?\d+)?$/.test(plain)) return Number(plain);
    context.addIssue({ code: 'custom', message: `“${text}” is not a number that can be read in only one way` });
    return z.NEVER;
  });

function rowSchema(decimalComma: boolean) {
  const number = numberIn(decimalComma);
  const scale = number.refine((value) => value !== 0, 'a scale of 0 makes every value 0');
  const profileRow = z.object({
    kind: z.literal('profile'),
    key: z.enum(profileFacts, { error: `use ${orOf(profileFacts)}` }),
    label: filled,
  });
  const registerRow = z.object({
    kind: z.literal('register'),
    key: filled,
    label: optional,
    object: optional,
    type: registerType,
    scale,
    unit: z.string(),
    address,
    function: readFunction,
    bits,
  });
  const parameterRow = z.object({
    kind: z.literal('parameter'),
    key: filled,
    label: filled,
    group: z.string(),
    role: z.preprocess(
      (text) => (text === '' ? undefined : text),
      z
        .union(
          [
            z.enum([...parameterRoles, ...spindleDriveRoles]),
            z.custom<StoredMoveRole>((text) => typeof text === 'string' && isStoredMoveRole(text)),
          ],
          {
            error: 'there is no such role',
          },
        )
        .optional(),
    ),
    object: optional,
    type: registerType,
    scale,
    unit: z.string(),
    minimum: number,
    maximum: number,
    factory: z.union([z.literal('').transform(() => undefined), number]),
    takesEffect: z.enum(['at once', 'after restart'], { error: 'use “at once” or “after restart”' }),
    address,
    running: address,
    stored: optionalAddress,
    factoryAddress: optionalAddress,
    bits,
    choices: z.string(),
    help: z.string(),
  });
  const oneBit = bits.refine((field) => field !== undefined && field.from === field.to, 'name its one bit');
  const roleOf = <const Role extends string>(roles: readonly Role[]) =>
    z
      .union([z.literal(''), z.enum(roles)], { error: `use ${roles.join(', ')}` })
      .transform((role) => (role === '' ? ('other' as const) : role));
  const inputRow = z.object({
    kind: z.literal('input'),
    key: filled,
    label: filled,
    role: roleOf(inputRoles),
    bits: oneBit,
  });
  const outputRow = z.object({
    kind: z.literal('output'),
    key: filled,
    label: filled,
    role: roleOf(outputRoles),
    bits: oneBit,
  });
  return z.discriminatedUnion('kind', [profileRow, registerRow, parameterRow, inputRow, outputRow], {
    error: 'use profile, register, parameter, input or output',
  });
}
type Row = z.output<ReturnType<typeof rowSchema>>;

interface Line {
  readonly line: number;
  readonly row: Row;
}

/**
 * Reads a register map: CSV with a header line; one row for each parameter or other register. Commas, semicolons and tabs
 * are recognised. An empty cell is never taken for 0.
 */
export function readDriveProfile(csv: string): ProfileFileResult {
  const table = Papa.parse<string[]>(csv.replace(/^\uFEFF/, ''), {
    delimitersToGuess: [',', ';', '\t'],
    skipEmptyLines: false,
  });
  const headAt = table.data.findIndex(isContent);
  const head = (table.data[headAt] ?? []).map((title) => title.trim());
  const problems = table.errors
    .filter(({ type }) => type === 'Quotes')
    .map((error) => `Line ${(error.row ?? 0) + 1}: ${error.message}.`);
  const missing = ['kind', 'key', 'label', 'type', 'scale', 'address'].filter((title) => !head.includes(title));
  if (missing.length > 0)
    return refused([`Line ${headAt + 1}: the header has no column ${missing.join(', ')}. Is this a register map?`]);
  const rows = table.data.map((cells, index) => ({ cells, line: index + 1 })).slice(headAt + 1);
  const content = rows.filter(({ cells }) => isContent(cells));
  if (content.length > mostRows)
    return refused([`${content.length} rows are too many; a map has at most ${mostRows}.`]);
  const schema = rowSchema(table.meta.delimiter !== ',');
  const lines: Line[] = [];
  for (const { cells, line } of content) {
    const raw = { ...blank, ...Object.fromEntries(head.map((title, k) => [title, (cells[k] ?? '').trim()])) };
    const parsed = schema.safeParse(raw);
    if (parsed.success) lines.push({ line, row: parsed.data });
    else
      for (const issue of parsed.error.issues)
        problems.push(`Line ${line}, column ${issue.path.join('.') || 'kind'}: ${issue.message}.`);
    if (cells.length > head.length)
      problems.push(`Line ${line}: it has ${cells.length} cells, the header ${head.length}. Is a comma not quoted?`);
  }
  return assemble(lines, problems);
}

const isContent = (cells: readonly string[]): boolean =>
  cells.some((cell) => cell.trim() !== '') && !(cells[0] ?? '').startsWith('#');

/** Columns that a map may leave out altogether. */
const blank = Object.fromEntries(
  [
    ...['label', 'group', 'role', 'object', 'unit', 'minimum', 'maximum', 'factory', 'takesEffect', 'running'],
    ...['stored', 'factoryAddress', 'function', 'bits', 'choices', 'help'],
  ].map((title) => [title, '']),
);

const refused = (problems: readonly string[]): ProfileFileResult => ({
  kind: 'refused',
  problems: problems.slice(0, mostProblems),
});

function assemble(lines: readonly Line[], found: readonly string[]): ProfileFileResult {
  const problems = [...found];
  const facts: Partial<Record<Extract<Row, { kind: 'profile' }>['key'], string>> = {};
  const parameters: DriveParameter[] = [];
  const registers: Record<string, DriveRegister> = {};
  const inputs: DriveInput[] = [];
  const outputs: DriveOutput[] = [];
  const seen = new Map<string, number>();
  const once = (line: number, column: string, text: string) => {
    const first = seen.get(`${column} ${text}`);
    if (first !== undefined)
      problems.push(`Line ${line}, column ${column}: ${text} occurs twice, first in line ${first}.`);
    seen.set(`${column} ${text}`, line);
  };
  for (const { line, row } of lines) {
    switch (row.kind) {
      case 'profile':
        facts[row.key] = row.label;
        break;
      case 'register': {
        once(line, 'key', row.key);
        const { kind: _, label, object, function: code, bits: field, ...register } = row;
        registers[row.key] = {
          ...register,
          ...(label === undefined ? {} : { label }),
          ...(object === undefined ? {} : { object }),
          ...(code === undefined ? {} : { function: code }),
          ...(field === undefined ? {} : { bits: field }),
        };
        break;
      }
      case 'input':
        once(line, 'key', row.key);
        inputs.push({ key: row.key, label: row.label, role: row.role, bit: row.bits?.from ?? 0 });
        once(line, 'bits', `input ${row.bits?.from}`);
        break;
      case 'output':
        once(line, 'key', row.key);
        outputs.push({ key: row.key, label: row.label, role: row.role, bit: row.bits?.from ?? 0 });
        once(line, 'bits', `output ${row.bits?.from}`);
        break;
      case 'parameter': {
        once(line, 'key', row.key);
        if (row.role) once(line, 'role', row.role);
        problems.push(...rangeProblems(row).map(([column, words]) => `Line ${line}, column ${column}: ${words}.`));
        parameters.push(parameterOf(row));
      }
    }
  }
  const { name, 'word order': order = 'high word first', firmware = '' } = facts;
  const { 'unlock code': code, 'traced inputs': traced } = facts;
  if (traced !== undefined && !(traced === 'inputStates' && registers.inputStates))
    problems.push(
      `The inputs in a trace are those of the register “inputStates”, which has to be there, not “${traced}”.`,
    );
  if (code !== undefined && !/^(\d+|0x[0-9a-fA-F]+)$/.test(code))
    problems.push(`The unlock code is a whole number, not “${code}”.`);
  if (code !== undefined && !(registers.unlock && registers.locked))
    problems.push('There is an unlock code, but the register unlock or the register locked is missing.');
  const firmwares = firmware.split(/[;\s]+/).filter(Boolean);
  if (!firmwares.every((each) => /^(\d+|0x[0-9a-fA-F]+)$/.test(each)))
    problems.push(`The firmware is a list of revisions, such as 0x10002; 0x10003, not “${firmware}”.`);
  const homing = homingForm(facts, problems);
  const feed = facts.watchdog ?? (registers.heartbeat ? 'heartbeat register' : 'nothing');
  if (name === undefined) problems.push('There is no row “profile,name”.');
  if (!wordOrders.some((each) => each === order))
    problems.push(`The word order is ${orOf(wordOrders)}, not “${order}”.`);
  if (!watchdogFeeds.some((each) => each === feed))
    problems.push(`The watchdog is reset by ${orOf(watchdogFeeds)}, not “${feed}”.`);
  if (feed === 'heartbeat register' && !registers.heartbeat)
    problems.push('The watchdog is reset by a heartbeat register, but the register heartbeat is missing.');
  for (const key of needed) if (!registers[key]) problems.push(`The register ${key} is missing.`);
  if (inputs.length > 0 && !registers.inputStates)
    problems.push('Inputs are listed, but the register inputStates is missing.');
  if (outputs.length > 0 && !registers.outputStates)
    problems.push('Outputs are listed, but the register outputStates is missing.');
  const lineOf = (key: string) => seen.get(`key ${key}`);
  problems.push(...profileOverlaps(parameters, registers, lineOf));
  return problems.length > 0
    ? refused(problems)
    : {
        kind: 'profile',
        profile: {
          name: name ?? '',
          wordOrder: order as DriveProfile['wordOrder'],
          watchdogFedBy: feed as WatchdogFeed,
          parameters,
          registers,
          inputs,
          outputs,
          homing,
          firmwares: firmwares.map(Number),
          ...(code === undefined ? {} : { unlockCode: Number(code) }),
          ...(traced === undefined ? {} : { tracedInputs: 'inputStates' as const }),
        },
      };
}

function orOf(words: readonly string[]): string {
  return words.map((each) => `“${each}”`).join(' or ');
}

/** “1-14 17-30 33 34 37 -1=minusStop”: standard methods by their numbers, others with the number that stands for them. */
function homingMethodsIn(text: string, problems: string[]): HomingForm['methods'] {
  const methods: Partial<Record<HomingMethod, number>> = {};
  for (const part of text.split(/[;\s]+/).filter(Boolean)) {
    const range = /^(\d+)(?:-(\d+))?$/.exec(part);
    const named = /^(-?\d+)=(\w+)$/.exec(part);
    const [from, to] = [Number(range?.[1]), Number(range?.[2] ?? range?.[1])];
    const numbers = range ? Array.from({ length: Math.max(0, Math.min(100, to - from + 1)) }, (_, k) => from + k) : [];
    const method = named && (/^\d+$/.test(named[2] ?? '') ? Number(named[2]) : named[2]);
    const own = named && isHomingMethod(method) ? [[method, Number(named[1])] as const] : [];
    const found: readonly (readonly [HomingMethod, number])[] = [
      ...own,
      ...numbers.flatMap((each) => (isHomingMethod(each) ? [[each, Number(each)] as const] : [])),
    ];
    for (const [each, number] of found) methods[each] = number;
    if (found.length === 0)
      problems.push(
        `The homing methods are numbers of CiA 402, ranges of them such as 17-30, or a number for one without, such as -1=minusStop; “${part}” is none.`,
      );
  }
  return methods;
}

/** “1=both limits; 2=no index”: what the numbers of the register `homingFailure` mean. */
function homingFailuresIn(text: string, problems: string[]): NonNullable<HomingForm['failures']> {
  const failures: Record<number, HomingFailure> = {};
  for (const part of text.split(';').filter((each) => each.trim() !== '')) {
    const [, number, words = ''] = /^\s*(\d+)\s*=\s*(.+?)\s*$/.exec(part) ?? [];
    if (number !== undefined && isHomingFailure(words)) failures[Number(number)] = words;
    else
      problems.push(
        `The homing failures are numbers with what they mean, such as 1=both limits; “${part.trim()}” is none. What they can mean: ${Object.keys(homingFailures).join(', ')}.`,
      );
  }
  return failures;
}

function homingForm(
  facts: Readonly<Partial<Record<(typeof profileFacts)[number], string>>>,
  problems: string[],
): HomingForm {
  const {
    'home offset': offset,
    'soft limits': origin,
    'homing methods': methods,
    'homing failures': failures,
  } = facts;
  if (offset !== undefined && !homeOffsetMeanings.some((each) => each === offset))
    problems.push(`The home offset means ${orOf(homeOffsetMeanings)}, not “${offset}”.`);
  if (origin !== undefined && !softLimitOrigins.some((each) => each === origin))
    problems.push(`The soft limits count from ${orOf(softLimitOrigins)}, not “${origin}”.`);
  return {
    ...(offset === undefined ? {} : { homeOffset: offset as HomeOffsetMeaning }),
    ...(origin === undefined ? {} : { softLimitsFrom: origin as SoftLimitOrigin }),
    ...(methods === undefined ? {} : { methods: homingMethodsIn(methods, problems) }),
    ...(failures === undefined ? {} : { failures: homingFailuresIn(failures, problems) }),
  };
}

function rangeProblems(row: Extract<Row, { kind: 'parameter' }>): readonly (readonly [string, string])[] {
  const { minimum, maximum, factory, scale, type } = row;
  if (minimum > maximum) return [['minimum', `the minimum ${minimum} is above the maximum ${maximum}`]];
  const problems: (readonly [string, string])[] = [];
  if (row.bits && row.bits.to >= 16 * wordsOf(type)) problems.push(['bits', `${type} has no bit ${row.bits.to}`]);
  if (factory === undefined) return problems;
  if (factory < minimum || factory > maximum)
    problems.push(['factory', `the factory value ${factory} is outside ${minimum} to ${maximum}`]);
  const [least, greatest] = rangeOf(type);
  const raw = Math.round(factory / scale);
  if (raw < least || raw > greatest) problems.push(['type', `the factory value ${factory} does not fit ${type}`]);
  return problems;
}

function parameterOf({
  kind: _,
  choices,
  role,
  object,
  stored,
  factory,
  factoryAddress,
  bits: field,
  ...rest
}: Extract<Row, { kind: 'parameter' }>): DriveParameter {
  const pairs = choices
    .split(/[;|]/)
    .map((pair) => pair.split('='))
    .filter((pair): pair is [string, string] => pair.length === 2);
  return {
    ...rest,
    choices: Object.fromEntries(pairs.map(([raw, words]) => [raw.trim(), words.trim()])),
    ...(role === undefined ? {} : { role }),
    ...(object === undefined ? {} : { object }),
    ...(factory === undefined ? {} : { factory }),
    ...(stored === undefined ? {} : { stored }),
    ...(factoryAddress === undefined ? {} : { factoryAddress }),
    ...(field === undefined ? {} : { bits: field }),
  };
}
