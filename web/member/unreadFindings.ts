import { unreadFields, type MemberDocument } from '@kavrid/contract';
import type { Finding } from '@kavrid/core/findings';

/** What was typed and cannot be taken: enabling, writing and keying in wait for it. */
export const unreadFindings = <S extends string>(
  document: MemberDocument,
  stationOf: (path: string) => S,
): readonly Finding<S>[] =>
  unreadFields(document).map(({ path, text, field, kept }) => ({
    id: 'unreadField',
    severity: 'stop',
    station: stationOf(path),
    path,
    message: `${capital(field)}: “${text}” cannot be used; ${kept} is kept.`,
    remedy:
      'Correct it in its field. Until then the drive cannot be enabled or written, and there are no key-in sheets.',
  }));

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
