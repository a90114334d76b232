import { endSheets, spindleEndSheets, type EndSheets, type Lengths, type LibraryEntry } from '@kavrid/contract';
import { mismatches, type EndMismatch, type FoundValues, type KeyInRow } from '@kavrid/core/drive';
import { skipToken } from '@reduxjs/toolkit/query';
import { useMemo } from 'react';
import { byKindOnScreen, useMember } from '../member/memberContext.ts';
import { useReadEntryQuery } from '../store/api.ts';
import { useAppSelector } from '../store/store.ts';

export type End = keyof EndSheets;
export const ends = ['controller', 'drive'] as const satisfies readonly End[];
export const endTitles: Readonly<Record<End, string>> = { controller: 'Controller', drive: 'Drive' };

/** One end as it is planned, found and ticked off. */
export interface EndState {
  readonly end: End;
  readonly name: string;
  readonly rows: readonly KeyInRow[];
  readonly found: FoundValues;
  readonly wrong: readonly EndMismatch[];
  readonly ticked: number;
  /** Values of its list that nothing plans and the sheet does not have yet. */
  readonly others: readonly { readonly code: string; readonly label: string }[];
}

/** The mark of a line that has been keyed in; it falls away when another value is planned. */
export const tickOf = (end: End, row: KeyInRow): string => `${tickStart(end, row)}${row.key ?? ''}`.slice(0, 120);
/** What the marks of a line begin with, whatever value was planned. */
export const tickStart = (end: End, { code, isAgain }: KeyInRow): string => `${end}/${code}${isAgain ? ' again' : ''}=`;

/** Both ends from one plan, in the words of their library entries. */
export function useEndStates(): readonly EndState[] {
  const member = useMember();
  const { document } = member;
  const controller = useReadEntryQuery(document.controller.entry?.id ?? skipToken).data?.item;
  const drive = useReadEntryQuery(document.drive.entry?.id ?? skipToken).data?.item;
  const lengths = useAppSelector((state) => state.preferences.lengths);
  return useMemo(() => {
    const sheets = sheetsOf(member, controller, drive, lengths);
    const entries = { controller, drive };
    return ends.map((end): EndState => {
      const rows = sheets[end];
      const found: FoundValues = Object.fromEntries(
        rows.flatMap(({ code }) => {
          const value = document.keying.found[`${end}/${code}`];
          return value ? [[code, value]] : [];
        }),
      );
      return {
        end,
        name: document[end].name,
        rows,
        found,
        wrong: mismatches(rows, found),
        others: unplanned(entries[end], rows),
        ticked: rows.filter((row) => document.keying.done.includes(tickOf(end, row))).length,
      };
    });
  }, [member, document, controller, drive, lengths]);
}

const unplanned = (item: LibraryEntry | undefined, rows: readonly KeyInRow[]): EndState['others'] =>
  item && 'values' in item.entry
    ? item.entry.values.filter(
        ({ code, role, keyIn }) => role === null && keyIn === 'value' && !rows.some((row) => row.code === code),
      )
    : [];

function sheetsOf(
  member: ReturnType<typeof useMember>,
  controller: LibraryEntry | undefined,
  drive: LibraryEntry | undefined,
  lengths: Lengths,
): EndSheets {
  return byKindOnScreen(member, {
    spindle: ({ document, computation: { input, results } }) =>
      spindleEndSheets(document, input, results, drive?.shelf === 'spindle drive' ? drive.entry : undefined),
    axis: ({ document, computation: { input, results } }) => {
      const entries = {
        controller: controller?.shelf === 'controller' ? controller.entry : undefined,
        drive: drive?.shelf === 'drive' ? drive.entry : undefined,
      };
      return endSheets(document, input, results, entries, lengths);
    },
  });
}
