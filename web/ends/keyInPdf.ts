import type { TDocumentDefinitions } from 'pdfmake/interfaces';
import pdfMake from 'pdfmake/build/pdfmake.js';
import faces from 'pdfmake/build/vfs_fonts.js';

pdfMake.addVirtualFileSystem(faces);

/** Makes a PDF and gives it to the person as a file. */
export const savePdf = (document: TDocumentDefinitions, name: string): Promise<void> =>
  pdfMake.createPdf(document).download(name);

/** Makes the same PDF and opens the browser's print dialog on it. */
export async function printPdf(definition: TDocumentDefinitions): Promise<void> {
  const address = URL.createObjectURL(await pdfMake.createPdf(definition).getBlob());
  const frame = document.createElement('iframe');
  frame.title = 'Sheets to print';
  frame.style.display = 'none';
  frame.src = address;
  frame.onload = () => frame.contentWindow?.print();
  window.addEventListener(
    'focus',
    () => {
      frame.remove();
      URL.revokeObjectURL(address);
    },
    { once: true },
  );
  document.body.append(frame);
}
