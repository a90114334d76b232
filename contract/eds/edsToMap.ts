import { rangeOf } from '@kavrid/core/drive';
import Papa from 'papaparse';
import type { Eds, EdsObject } from './readEds.ts';

/** Where a range of objects lies among the registers: base + (index − from) · stride + sub-index · step. */
export interface AddressRule {
  readonly from: number;
  readonly to: number;
  readonly base: number;
  readonly stride: number;
  readonly step: number;
}

export interface MappedObject {
  readonly object: EdsObject;
  /** Zero-based; undefined: no rule holds for it. */
  readonly address: number | undefined;
}

/** The address of every object by the first rule that holds for it. */
export const mappedObjects = ({ objects }: Eds, rules: readonly AddressRule[]): readonly MappedObject[] =>
  objects.map((object) => {
    const rule = rules.find(({ from, to }) => object.index >= from && object.index <= to);
    return { object, address: rule && rule.base + (object.index - rule.from) * rule.stride + object.sub * rule.step };
  });

/** Objects of CiA 301 and CiA 402 that Kavrid works with, by what a register map calls them. */
const registers: Readonly<Record<string, string>> = {
  '1000:0': 'deviceType',
  '1010:1': 'store',
  '1011:1': 'loadFactory',
  '1018:2': 'identityKind',
  '1018:3': 'identityFirmware',
  '1018:4': 'identitySerial',
  '603f:0': 'errorCode',
  '6040:0': 'controlword',
  '6041:0': 'statusword',
  '6060:0': 'modeOfOperation',
  '6061:0': 'modeDisplay',
};

/** What is read at each connect: wrong addresses or a wrong word order show there. */
const proofs = [
  { key: 'deviceType', words: 'object 0x1000, the device type' },
  { key: 'identityKind', words: 'object 0x1018:2, the product code' },
] as const;

/** Settings whose values the standard defines without a unit of the drive. */
const roles: Readonly<Record<string, string>> = {
  '605a:0': 'quickStopOption',
  '605b:0': 'shutdownOption',
  '605c:0': 'disableOption',
  '605d:0': 'haltOption',
  '605e:0': 'faultReactionOption',
  '6007:0': 'lostLinkOption',
  '6098:0': 'homingMethod',
};

const header = [
  ...['kind', 'key', 'label', 'group', 'role', 'object', 'type', 'scale', 'unit', 'minimum', 'maximum', 'factory'],
  ...['takesEffect', 'address', 'running', 'stored', 'factoryAddress', 'choices', 'help'],
] as const;

const hex = (value: number, digits: number) => value.toString(16).toUpperCase().padStart(digits, '0');

/**
 * A register map made from an electronic data sheet and the rules of its addresses, as CSV. Values stay raw, since the sheet tells
 * neither units nor scales; whether a value needs a restart is not known, so it is taken to need one.
 * @returns the map; the objects that are left out of it, with the reason; and what has to be in it, because reading it shows at each
 *   connect that the addresses are right
 */
export function edsToMap(
  eds: Eds,
  rules: readonly AddressRule[],
  options: { readonly name: string; readonly wordOrder: string },
): {
  readonly csv: string;
  readonly left: readonly { readonly object: EdsObject; readonly because: string }[];
  readonly unproven: readonly string[];
} {
  const left: { object: EdsObject; because: string }[] = [];
  const rows: Readonly<Record<string, string | number>>[] = [
    { kind: 'profile', key: 'name', label: options.name },
    { kind: 'profile', key: 'word order', label: options.wordOrder },
    { kind: 'profile', key: 'watchdog', label: 'nothing' },
  ];
  for (const { object, address } of mappedObjects(eds, rules)) {
    const because = leftOutBecause(object, address);
    if (because !== undefined || object.type === undefined || address === undefined) {
      left.push({ object, because: because ?? '' });
      continue;
    }
    const place = `${object.index.toString(16)}:${object.sub.toString(16)}`;
    const shared = {
      object: `0x${hex(object.index, 4)}${object.sub === 0 ? '' : `:${hex(object.sub, 2)}`}`,
      type: object.type,
      scale: 1,
      address,
    };
    const key = registers[place];
    if (key !== undefined || object.access !== 'rw') {
      rows.push({ kind: 'register', key: key ?? keyOf(object), ...shared, help: object.name });
      continue;
    }
    const [least, most] = rangeOf(object.type);
    rows.push({
      kind: 'parameter',
      key: keyOf(object),
      label: object.name,
      group: groupOf(object),
      role: roles[place] ?? '',
      ...shared,
      // A number of the standard has no unit; of all else nobody knows it.
      unit: roles[place] === undefined ? 'raw' : '',
      minimum: object.minimum ?? least,
      maximum: object.maximum ?? most,
      factory: object.factory ?? '',
      takesEffect: 'after restart',
      running: address,
    });
  }
  const has = (key: string) => rows.some((row) => row.key === key);
  return {
    unproven: proofs.filter(({ key }) => !has(key)).map(({ words }) => words),
    csv: Papa.unparse({ fields: [...header], data: rows.map((row) => header.map((title) => row[title] ?? '')) }),
    left,
  };
}

function leftOutBecause({ access, type }: EdsObject, address: number | undefined): string | undefined {
  if (address === undefined) return 'no address range covers it';
  if (type === undefined) return 'its data type does not fit one or two registers';
  if (access === 'const') return 'it is a constant';
  return address < 0 || address > 0xffff ? `its address ${address} is outside 0 to 65535` : undefined;
}

const keyOf = ({ index, sub }: EdsObject) => `object${hex(index, 4)}${sub === 0 ? '' : `sub${hex(sub, 2)}`}`;

/** Areas of the object dictionary (CiA 301). */
const groupOf = ({ index }: EdsObject): string =>
  index < 0x2000 ? 'Communication' : index < 0x6000 ? 'Manufacturer' : 'Drive profile';
