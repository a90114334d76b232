import { traceWords, wordsOf, type BitField, type DriveParameter, type DriveRegister } from '@kavrid/core/drive';

/** A stretch of registers that one cell of a map claims. */
interface Claim {
  readonly key: string;
  readonly column: string;
  readonly address: number;
  readonly words: number;
  /** Input registers are numbered apart from holding registers. */
  readonly table: 3 | 4;
  readonly bits: BitField | undefined;
}

/** Cells of a map that claim the same register. Written and running may be one; packed fields share a word by other bits. */
export function profileOverlaps(
  parameters: readonly DriveParameter[],
  registers: Readonly<Record<string, DriveRegister>>,
  lineOf: (key: string) => number | undefined,
): readonly string[] {
  const claims = [...parameters.flatMap(claimsOfParameter), ...Object.values(registers).map(claimOfRegister)].sort(
    (a, b) => a.table - b.table || a.address - b.address,
  );
  const problems: string[] = [];
  for (const claim of claims)
    if (claim.address + claim.words > 0x10000)
      problems.push(`${place(claim, lineOf)}: it needs ${claim.words} words and reaches beyond address 65535.`);
  claims.forEach((claim, index) => {
    for (let k = index - 1, reach = 0; k >= 0 && reach < 64; k--, reach++) {
      const other = claims[k];
      if (!other || other.table !== claim.table) break;
      if (other.address + other.words <= claim.address || mayShare(other, claim)) continue;
      problems.push(
        `${place(claim, lineOf)}: address ${claim.address} is also that of ${other.key} (column ${other.column}${lineText(lineOf(other.key))}).`,
      );
      break;
    }
  });
  return problems;
}

const lineText = (line: number | undefined) => (line === undefined ? '' : `, line ${line}`);
const place = ({ key, column }: Claim, lineOf: (key: string) => number | undefined) =>
  `Line ${lineOf(key) ?? '?'}, column ${column}`;

function claimsOfParameter({
  key,
  type,
  bits,
  address,
  running,
  stored,
  factoryAddress,
}: DriveParameter): readonly Claim[] {
  const words = wordsOf(type);
  const claim = (column: string, at: number): Claim => ({ key, column, address: at, words, table: 3, bits });
  return [
    claim('address', address),
    ...(running === address ? [] : [claim('running', running)]),
    ...(stored === undefined ? [] : [claim('stored', stored)]),
    ...(factoryAddress === undefined ? [] : [claim('factoryAddress', factoryAddress)]),
  ];
}

const claimOfRegister = ({ key, type, address, bits, function: code }: DriveRegister): Claim => ({
  key,
  column: 'address',
  address,
  words: key === 'traceMemory' ? Math.min(traceWords, 0x10000 - address) : wordsOf(type),
  table: code ?? 3,
  bits,
});

const mayShare = (a: Claim, b: Claim): boolean =>
  a.bits !== undefined &&
  b.bits !== undefined &&
  a.address === b.address &&
  a.words === b.words &&
  (a.bits.to < b.bits.from || b.bits.to < a.bits.from);
