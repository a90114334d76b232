import type { MemberDocument } from '@kavrid/contract';
import pdfMake from 'pdfmake/build/pdfmake.js';
import faces from 'pdfmake/build/vfs_fonts.js';
import { keyInDocument } from './keyInDocument.ts';
import type { EndState } from './useEndSheets.ts';

/** Makes the PDF of both sheets and gives it to the person as a file. */
export async function saveKeyInPdf(member: MemberDocument, states: readonly EndState[]): Promise<void> {
  pdfMake.addVirtualFileSystem(faces);
  const printedOn = new Date().toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric' });
  await pdfMake
    .createPdf(keyInDocument(member, states, printedOn))
    .download(`${member.name || 'axis'} key-in sheets.pdf`);
}
