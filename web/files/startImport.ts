import { addressOf, type ImportState, type Problem } from '@kavrid/contract';

/** Sends a file to be read. XMLHttpRequest, because fetch does not tell how much has been sent. */
export function startImport(
  file: File,
  tell: {
    readonly sent: (share: number) => void;
    readonly ready: (state: ImportState) => void;
    readonly failed: (because: string) => void;
  },
): { readonly abort: () => void } {
  const request = new XMLHttpRequest();
  request.open('POST', `/api${addressOf('startImport')}`);
  request.setRequestHeader('content-type', 'application/octet-stream');
  request.responseType = 'json';
  request.upload.onprogress = ({ loaded, total }) => tell.sent(total > 0 ? loaded / total : 0);
  request.onload = () => {
    if (request.status < 300) tell.ready(request.response as ImportState);
    else tell.failed((request.response as Problem | null)?.title ?? 'The server refused the file.');
  };
  request.onerror = () => tell.failed('The file could not be sent: the server does not respond.');
  request.send(file);
  return { abort: () => request.abort() };
}
