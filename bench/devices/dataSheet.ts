import type { RegisterType } from '@kavrid/core/drive';
import type { RegisterMap } from './registerMap.ts';

/** A value of a device by its place in the object dictionary of CiA 301. */
export interface DictionaryObject {
  readonly index: number;
  readonly sub: number;
  readonly name: string;
  readonly type: RegisterType;
  /** Of a parameter; raw. */
  readonly range?: { readonly minimum: number; readonly maximum: number; readonly factory: number };
  /** Register at which the device has it. */
  readonly address: number;
}

/** First index of what the standards have no object for (CiA 301, manufacturer-specific area). */
const ownArea = 0x2000;
/** Objects of which the standard has the value under sub-index 1. */
const grouped: ReadonlySet<number> = new Set([0x1010, 0x1011]);

/** What of a map has an object, and every parameter: one without an object gets one of the device's own, in the order of the map. */
export function dictionaryOf({ registers, parameters }: RegisterMap): readonly DictionaryObject[] {
  let own = ownArea;
  const place = (object: string) => {
    const [index = '', sub = ''] = object.split(':');
    return { index: Number(index), sub: sub === '' ? Number(grouped.has(Number(index))) : Number.parseInt(sub, 16) };
  };
  return [
    ...registers.flatMap(({ object, name, type, address }) =>
      object === '' ? [] : [{ ...place(object), name, type, address }],
    ),
    ...parameters.map(({ object, name, type, address, minimum, maximum, factory }) => ({
      ...(object === '' ? { index: own++, sub: 0 } : place(object)),
      name,
      type,
      address,
      range: { minimum, maximum, factory },
    })),
  ].toSorted((a, b) => a.index - b.index || a.sub - b.sub);
}

/** Where ranges of objects lie among the registers: base + (index − from) · stride + sub-index · 2, as the manual of the bench says. */
export const objectWindows = [
  { from: 0x1000, to: 0x10ff, base: 12288, stride: 8 },
  { from: 0x2000, to: 0x207f, base: 14336, stride: 2 },
  { from: 0x6000, to: 0x60ff, base: 14592, stride: 6 },
] as const;
/** Registers from one sub-index to the next. */
export const subIndexStep = 2;

/** The register of an object in the windows. */
export function windowAddress({ index, sub }: Pick<DictionaryObject, 'index' | 'sub'>): number {
  const window = objectWindows.find(({ from, to }) => index >= from && index <= to);
  if (!window) throw new RangeError(`Object 0x${index.toString(16)} lies in no window.`);
  return window.base + (index - window.from) * window.stride + sub * subIndexStep;
}

/** Data types of CiA 301 by their number. */
const dataTypes: Readonly<Record<RegisterType, number>> = { u16: 0x06, i16: 0x03, u32: 0x07, i32: 0x04 };

const hex = (value: number, digits: number) => value.toString(16).toUpperCase().padStart(digits, '0');

/**
 * The electronic data sheet of a device (CiA 306-1, from memory).
 * @param isWritable whether a register of the device takes writes
 */
export function dataSheet(
  objects: readonly DictionaryObject[],
  product: { readonly name: string; readonly file: string; readonly code: number },
  isWritable: (address: number) => boolean,
): string {
  const indices = [...new Set(objects.map(({ index }) => index))];
  const list = (title: string, belongs: (index: number) => boolean) => {
    const of = indices.filter(belongs);
    return [`[${title}]`, `SupportedObjects=${of.length}`, ...of.map((index, k) => `${k + 1}=0x${hex(index, 4)}`), ''];
  };
  const isMandatory = (index: number) => index === 0x1000 || index === 0x1018;
  const value = ({ name, type, range, address }: DictionaryObject) => [
    `ParameterName=${name}`,
    'ObjectType=0x7',
    `DataType=0x${hex(dataTypes[type], 4)}`,
    `AccessType=${isWritable(address) ? 'rw' : 'ro'}`,
    ...(range ? [`DefaultValue=${range.factory}`, `LowLimit=${range.minimum}`, `HighLimit=${range.maximum}`] : []),
    'PDOMapping=0',
    '',
  ];
  const sections = indices.flatMap((index) => {
    const subs = objects.filter((each) => each.index === index);
    const [only] = subs;
    if (only && subs.length === 1 && only.sub === 0) return [`[${hex(index, 4)}]`, ...value(only)];
    const last = Math.max(...subs.map(({ sub }) => sub));
    return [
      `[${hex(index, 4)}]`,
      `ParameterName=${groupName(subs)}`,
      'ObjectType=0x8',
      `SubNumber=${subs.length + 1}`,
      '',
      `[${hex(index, 4)}sub0]`,
      'ParameterName=Highest sub-index',
      'ObjectType=0x7',
      'DataType=0x0005',
      'AccessType=const',
      `DefaultValue=${last}`,
      'PDOMapping=0',
      '',
      ...subs.flatMap((each) => [`[${hex(index, 4)}sub${each.sub.toString(16).toUpperCase()}]`, ...value(each)]),
    ];
  });
  return [
    '[FileInfo]',
    `FileName=${product.file}`,
    'FileVersion=1',
    'FileRevision=0',
    'EDSVersion=4.0',
    `Description=${product.name}`,
    '',
    '[DeviceInfo]',
    'VendorName=',
    'VendorNumber=0',
    `ProductName=${product.name}`,
    `ProductNumber=0x${hex(product.code, 4)}`,
    'RevisionNumber=0',
    '',
    ...list('MandatoryObjects', isMandatory),
    ...list('OptionalObjects', (index) => !isMandatory(index) && (index < ownArea || index >= 0x6000)),
    ...list('ManufacturerObjects', (index) => index >= ownArea && index < 0x6000),
    ...sections,
  ].join('\n');
}

/** What the names of a group begin with alike; else the first of them. */
function groupName(subs: readonly DictionaryObject[]): string {
  const [first, ...others] = subs.map(({ name }) => name);
  const words = (first ?? '').split(' ');
  const shared = words.filter((_, k) => others.every((name) => name.startsWith(words.slice(0, k + 1).join(' '))));
  return shared.length > 0 && others.length > 0 ? shared.join(' ').replace(/,$/, '') : (first ?? '');
}
