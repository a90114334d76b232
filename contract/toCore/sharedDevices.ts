import { addressText } from '@kavrid/core/procedure';
import type { MemberDocument } from '../member.ts';

/** A drive that several axes or spindles of a machine name as theirs. */
export interface SharedDevice {
  /** host:port/unit */
  readonly address: string;
  readonly names: readonly string[];
}

/** Drives that are linked to more than one member; one of them works with it at a time. A link without a register map is none. */
export function sharedDevices(members: readonly MemberDocument[]): readonly SharedDevice[] {
  const linked = members
    .filter(({ link }) => link.profileId !== null)
    .map(({ name, link }) => ({ name, address: addressText(link) }));
  return [...new Set(linked.map(({ address }) => address))]
    .map((address) => ({ address, names: linked.filter((each) => each.address === address).map(({ name }) => name) }))
    .filter(({ names }) => names.length > 1);
}
