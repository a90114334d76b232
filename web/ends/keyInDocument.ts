import type { MemberDocument } from '@kavrid/contract';
import type { Content, TableCell, TDocumentDefinitions } from 'pdfmake/interfaces';
import { stepTitles } from './SheetTable.tsx';
import { endTitles, tickOf, type EndState } from './useEndSheets.ts';

/** Signs that the paper's face has not. */
const plain = (text: string) =>
  text
    .replace(/[\u202f\u00a0]/g, ' ')
    .replace(/→/g, '->')
    .replace(/−/g, '-');

/** What a sheet of paper says of where it belongs. */
export interface PaperFacts {
  readonly machine: string;
  /** The saved version of the axis or spindle; undefined while edits are not saved. */
  readonly version: number | undefined;
  /** As it is to be read. */
  readonly printedOn: string;
}

type Sheet = Pick<EndState, 'end' | 'name' | 'rows' | 'found'>;

/** Both key-in sheets for paper, a page or more each: the one source of what is printed and of the PDF. */
export function keyInDocument(
  member: MemberDocument,
  states: readonly Sheet[],
  { machine, version, printedOn }: PaperFacts,
): TDocumentDefinitions {
  const what = [
    machine,
    `${member.kind} ${member.name}`,
    version === undefined ? 'edits not saved' : `version ${version}`,
    printedOn,
  ]
    .filter(Boolean)
    .join(', ');
  return {
    info: { title: plain(`Key-in sheets of ${member.name}`) },
    pageSize: 'A4',
    pageMargins: [36, 36, 36, 40],
    defaultStyle: { fontSize: 9 },
    content: states.flatMap((state, index) => sheet(member, state, what, index > 0)),
    footer: (page, pages) => ({
      columns: [plain(what), { text: `page ${page} of ${pages}`, alignment: 'right', width: 80 }],
      margin: [36, 10],
      fontSize: 8,
    }),
  };
}

const columns = ['Done', 'Code', 'Name', 'Key in', 'Found', 'Display', 'Note'];

function sheet(member: MemberDocument, state: Sheet, what: string, onNewPage: boolean): Content[] {
  const { end, name, rows, found } = state;
  const { done, notes } = member.keying;
  const line = (row: Sheet['rows'][number]): TableCell[] => [
    done.includes(tickOf(end, row)) ? { text: 'X', alignment: 'center' } : '',
    { text: plain(row.code === row.label ? '' : row.code), noWrap: true },
    plain(
      `${row.step === 'value' ? '' : `${stepTitles[row.step]}: `}${row.label}${row.meaning ? ` (${row.meaning})` : ''}`,
    ),
    { text: plain(row.key === undefined ? '' : `${row.key} ${row.unit}`.trim()), bold: true },
    plain(found[row.code] ?? ''),
    plain(row.shows),
    plain([row.note, notes[`${end}/${row.code}`]].filter(Boolean).join(' ')),
  ];
  return [
    {
      text: plain(`${member.name}: ${[endTitles[end], name].filter(Boolean).join(', ')}`),
      fontSize: 14,
      bold: true,
      ...(onNewPage ? { pageBreak: 'before' as const } : {}),
    },
    { text: plain(what), margin: [0, 2, 0, 8] },
    {
      table: {
        headerRows: 1,
        dontBreakRows: true,
        widths: [24, 'auto', '*', 84, 60, 40, 100],
        body: [columns.map((text) => ({ text, bold: true })), ...rows.map(line)],
      },
      layout: { hLineWidth: () => 0.5, vLineWidth: () => 0.5 },
    },
    {
      columns: ['Keyed in by', 'Checked by'].map((by) => ({
        text: `${by}: ______________________  Date: ______________`,
      })),
      margin: [0, 18, 0, 0],
      unbreakable: true,
    },
  ];
}
