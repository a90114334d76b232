import type { MemberDocument } from '@kavrid/contract';
import type { Content, TDocumentDefinitions, TableCell } from 'pdfmake/interfaces';
import { endTitles, tickOf, type EndState } from './useEndSheets.ts';
import { stepTitles } from './SheetTable.tsx';

/** Signs that the paper's face has not. */
const plain = (text: string) =>
  text
    .replace(/[\u202f\u00a0]/g, ' ')
    .replace(/→/g, '->')
    .replace(/−/g, '-');

/** Both key-in sheets as a document for paper, a page or more each. @param printedOn as it is to be read */
export function keyInDocument(
  member: MemberDocument,
  states: readonly Pick<EndState, 'end' | 'name' | 'rows'>[],
  printedOn: string,
): TDocumentDefinitions {
  return {
    info: { title: plain(`Key-in sheets of ${member.name}`) },
    pageSize: 'A4',
    pageMargins: [36, 36, 36, 40],
    defaultStyle: { fontSize: 9 },
    content: states.flatMap((state, index) => sheet(member, state, index > 0)),
    footer: (page, pages) => ({
      columns: [plain(`${member.name}, ${printedOn}`), { text: `${page} / ${pages}`, alignment: 'right' }],
      margin: [36, 10],
      fontSize: 8,
    }),
  };
}

function sheet(
  member: MemberDocument,
  { end, name, rows }: Pick<EndState, 'end' | 'name' | 'rows'>,
  onNewPage: boolean,
): Content[] {
  const { done, notes } = member.keying;
  const line = (row: EndState['rows'][number]): TableCell[] => [
    done.includes(tickOf(end, row)) ? { text: 'X', alignment: 'center' } : '',
    plain(row.code === row.label ? '' : row.code),
    plain(
      `${row.step === 'value' ? '' : `${stepTitles[row.step]}: `}${row.label}${row.meaning ? ` (${row.meaning})` : ''}`,
    ),
    { text: plain(row.key === undefined ? '' : `${row.key} ${row.unit}`.trim()), bold: true },
    plain(row.shows),
    plain([row.note, notes[`${end}/${row.code}`]].filter(Boolean).join(' ')),
  ];
  return [
    {
      text: plain(`${member.name}: ${endTitles[end]}, ${name}`),
      fontSize: 14,
      bold: true,
      margin: [0, 0, 0, 8],
      ...(onNewPage ? { pageBreak: 'before' as const } : {}),
    },
    {
      table: {
        headerRows: 1,
        dontBreakRows: true,
        widths: [22, 52, '*', 90, 44, 130],
        body: [
          ['done', 'code', 'what it is', 'key in', 'display', 'note'].map((text) => ({ text, bold: true })),
          ...rows.map(line),
        ],
      },
      layout: { hLineWidth: () => 0.5, vLineWidth: () => 0.5 },
    },
  ];
}
