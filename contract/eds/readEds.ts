import type { RegisterType } from '@kavrid/core/drive';

/** An object of an electronic data sheet that holds one value. */
export interface EdsObject {
  readonly index: number;
  readonly sub: number;
  readonly name: string;
  readonly access: 'ro' | 'wo' | 'rw' | 'const';
  /** How its registers hold it; undefined: it does not fit registers of 16 or 32 bits. */
  readonly type: RegisterType | undefined;
  readonly minimum: number | undefined;
  readonly maximum: number | undefined;
  /** Undefined where the sheet gives none, or one that depends on a node number. */
  readonly factory: number | undefined;
  readonly line: number;
}

export interface Eds {
  readonly product: string;
  readonly objects: readonly EdsObject[];
}
export type EdsResult =
  { readonly kind: 'eds'; readonly eds: Eds } | { readonly kind: 'refused'; readonly problems: readonly string[] };

/** Data types of CiA 301 by their number in the object dictionary: how registers hold them, and their bits. */
const dataTypes: Readonly<Record<number, { readonly type: RegisterType; readonly bits: number }>> = {
  0x01: { type: 'u16', bits: 1 },
  0x02: { type: 'i16', bits: 8 },
  0x03: { type: 'i16', bits: 16 },
  0x04: { type: 'i32', bits: 32 },
  0x05: { type: 'u16', bits: 8 },
  0x06: { type: 'u16', bits: 16 },
  0x07: { type: 'u32', bits: 32 },
  0x10: { type: 'i32', bits: 24 },
  0x16: { type: 'u32', bits: 24 },
};
const accessTypes: Readonly<Record<string, EdsObject['access']>> = {
  ro: 'ro',
  wo: 'wo',
  rw: 'rw',
  rwr: 'rw',
  rww: 'rw',
  const: 'const',
};

interface Section {
  readonly line: number;
  readonly entries: ReadonlyMap<string, { readonly value: string; readonly line: number }>;
}

const mostProblems = 50;
const mostLines = 200_000;

/**
 * Reads an electronic data sheet (CiA 306-1): names, types, ranges, defaults and access of the objects. Numbers are decimal, hexadecimal
 * with `0x` or octal with a leading 0; limits of signed types may be written in two's complement. What it does not hold, such as
 * units, scales and register addresses, stays unknown.
 * @returns the objects, or what is wrong by line
 */
export function readEds(text: string): EdsResult {
  const problems: string[] = [];
  const sections = readSections(text, problems);
  const objects: EdsObject[] = [];
  for (const [title, section] of sections) {
    const match = /^([0-9a-f]{4})(?:sub([0-9a-f]{1,2}))?$/.exec(title);
    if (!match) continue;
    const [, index = '', sub] = match;
    const parent = sub === undefined ? undefined : sections.get(index);
    if (sub !== undefined && !parent)
      problems.push(`Line ${section.line}: [${index}sub${sub}] has no section [${index}] that it belongs to.`);
    objects.push(
      ...objectsOf(parseInt(index, 16), sub === undefined ? undefined : parseInt(sub, 16), section, parent, problems),
    );
  }
  checkLists(sections, problems);
  if (objects.length === 0 && problems.length === 0)
    problems.push('The file has no sections of objects, such as [6040].');
  if (problems.length > 0) return { kind: 'refused', problems: problems.slice(0, mostProblems) };
  const product = sections.get('deviceinfo')?.entries.get('productname')?.value ?? '';
  return { kind: 'eds', eds: { product, objects: objects.sort((a, b) => a.index - b.index || a.sub - b.sub) } };
}

function readSections(text: string, problems: string[]): ReadonlyMap<string, Section> {
  const sections = new Map<string, Section & { readonly entries: Map<string, { value: string; line: number }> }>();
  const lines = text.replace(/^\uFEFF/, '').split(/\r\n|\n|\r/);
  if (lines.length > mostLines) {
    problems.push(`The file has ${lines.length} lines; at most ${mostLines} are read.`);
    return sections;
  }
  let open: (Section & { readonly entries: Map<string, { value: string; line: number }> }) | undefined;
  lines.forEach((raw, at) => {
    const line = at + 1;
    const content = raw.trim();
    if (content === '' || content.startsWith(';')) return;
    const head = /^\[([^\]]*)\]$/.exec(content);
    if (head) {
      const title = (head[1] ?? '').trim().toLowerCase();
      const before = sections.get(title);
      if (before) problems.push(`Line ${line}: [${head[1] ?? ''}] occurs twice, first in line ${before.line}.`);
      open = { line, entries: new Map() };
      sections.set(title, open);
      return;
    }
    const entry = /^([^=]+)=(.*)$/.exec(content);
    if (!entry || !open) {
      problems.push(`Line ${line}: “${content.slice(0, 60)}” is neither a section nor an entry of one.`);
      return;
    }
    const key = (entry[1] ?? '').trim().toLowerCase();
    const before = open.entries.get(key);
    if (before) problems.push(`Line ${line}: ${key} occurs twice in its section, first in line ${before.line}.`);
    open.entries.set(key, { value: (entry[2] ?? '').trim(), line });
  });
  return sections;
}

/** Every object of the three lists has a section. */
function checkLists(sections: ReadonlyMap<string, Section>, problems: string[]): void {
  for (const list of ['mandatoryobjects', 'optionalobjects', 'manufacturerobjects']) {
    const section = sections.get(list);
    for (const [key, { value, line }] of section?.entries ?? []) {
      if (key === 'supportedobjects') continue;
      const index = edsNumber(value);
      if (index === undefined) problems.push(`Line ${line}: “${value.slice(0, 40)}” is not an object number.`);
      else if (!sections.has(index.toString(16).padStart(4, '0')))
        problems.push(`Line ${line}: object 0x${index.toString(16)} is listed, but has no section.`);
    }
  }
}

function objectsOf(
  index: number,
  sub: number | undefined,
  section: Section,
  parent: Section | undefined,
  problems: string[],
): readonly EdsObject[] {
  const { entries, line } = section;
  const title = parent?.entries.get('parametername')?.value;
  const own = entries.get('parametername')?.value;
  if (!own) {
    problems.push(`Line ${line}: the object has no ParameterName.`);
    return [];
  }
  const count = compactCount(section, problems);
  const isGroup =
    sub === undefined && ['0x8', '0x08', '0x9', '0x09', '8', '9'].includes(entries.get('objecttype')?.value ?? '');
  // Its values stand in sections of their own.
  if (isGroup && count === 0) return [];
  const fields = valueFields(section, problems);
  if (!fields) return [];
  const name = title === undefined ? own : `${title}: ${own}`;
  if (count > 0)
    return Array.from({ length: count }, (_, k) => ({ index, sub: k + 1, name: `${name} ${k + 1}`, line, ...fields }));
  // The number of entries is not a drive value.
  if (sub === 0 && parent !== undefined) return [];
  return [{ index, sub: sub ?? 0, name, line, ...fields }];
}

function compactCount({ entries }: Section, problems: string[]): number {
  const compact = entries.get('compactsubobj');
  if (!compact || compact.value === '') return 0;
  const count = edsNumber(compact.value);
  if (count !== undefined && Number.isInteger(count) && count >= 0 && count <= 254) return count;
  problems.push(
    `Line ${compact.line}: CompactSubObj is a whole number from 0 to 254, not “${compact.value.slice(0, 40)}”.`,
  );
  return 0;
}

function valueFields(
  { entries, line }: Section,
  problems: string[],
): Pick<EdsObject, 'access' | 'type' | 'minimum' | 'maximum' | 'factory'> | undefined {
  const access = entries.get('accesstype');
  const known = accessTypes[access?.value.toLowerCase() ?? ''];
  if (!known) {
    problems.push(
      access
        ? `Line ${access.line}: AccessType is ro, wo, rw, rwr, rww or const, not “${access.value.slice(0, 40)}”.`
        : `Line ${line}: the object has no AccessType.`,
    );
    return undefined;
  }
  const typeEntry = entries.get('datatype');
  const code = edsNumber(typeEntry?.value ?? '');
  if (code === undefined) {
    problems.push(
      typeEntry
        ? `Line ${typeEntry.line}: DataType “${typeEntry.value.slice(0, 40)}” is not a number.`
        : `Line ${line}: the object has no DataType.`,
    );
    return undefined;
  }
  const held = dataTypes[code];
  const number = (key: string) => {
    const entry = entries.get(key);
    if (!entry || entry.value === '' || !held) return undefined;
    // It depends on the node number, which is not known.
    if (/\$NODEID/i.test(entry.value)) return undefined;
    const value = edsNumber(entry.value);
    if (value === undefined) {
      problems.push(`Line ${entry.line}: “${entry.value.slice(0, 40)}” is not a number.`);
      return undefined;
    }
    const inType = signedIn(value, held);
    if (inType === undefined)
      problems.push(`Line ${entry.line}: ${entry.value} does not fit its data type of ${held.bits} bits.`);
    return inType;
  };
  const [minimum, maximum, factory] = [number('lowlimit'), number('highlimit'), number('defaultvalue')];
  if (minimum !== undefined && maximum !== undefined && minimum > maximum)
    problems.push(`Line ${line}: its LowLimit ${minimum} is above its HighLimit ${maximum}.`);
  return { access: known, type: held?.type, minimum, maximum, factory };
}

/** Decimal, `0x` hexadecimal, or octal with a leading 0. */
export function edsNumber(text: string): number | undefined {
  const plain = text.trim();
  const sign = plain.startsWith('-') ? -1 : 1;
  const digits = plain.replace(/^[+-]/, '');
  if (/^0x[0-9a-f]{1,8}$/i.test(digits)) return sign * parseInt(digits, 16);
  if (/^0[0-7]+$/.test(digits)) return sign * parseInt(digits, 8);
  return /^(0|[1-9]\d{0,9})$/.test(digits) ? sign * Number(digits) : undefined;
}

/** A value as its type has it: a number of a signed type beyond its range is its two's complement, of its own width or of 32 bits. */
function signedIn(
  value: number,
  { type, bits }: { readonly type: RegisterType; readonly bits: number },
): number | undefined {
  const isSigned = type === 'i16' || type === 'i32';
  const [least, most] = isSigned ? [-(2 ** (bits - 1)), 2 ** (bits - 1) - 1] : [0, 2 ** bits - 1];
  const complementOf = (width: number) => (value >= 2 ** (width - 1) && value < 2 ** width ? value - 2 ** width : NaN);
  const readings = isSigned ? [value, complementOf(bits), complementOf(32)] : [value];
  return readings.find((each) => each >= least && each <= most);
}
