/** Where a long file goes, a piece at a time. */
export interface Sink {
  /** Settles when there is room for more. */
  readonly write: (bytes: Uint8Array<ArrayBuffer>) => Promise<void>;
  readonly close: () => Promise<void>;
  readonly discard: () => Promise<void>;
}

interface FilePicker {
  readonly showSaveFilePicker?: (options: { readonly suggestedName: string }) => Promise<FileSystemFileHandle>;
}

/** Without a way to the disk the file grows in memory, and ends here. */
const mostInMemory = 600e6;

/**
 * Opens a file to write to: on the disk at once where the browser can, else as a download when it is whole.
 * @returns undefined when the person decides against it.
 */
export async function openSink(suggestedName: string): Promise<Sink | undefined> {
  const { showSaveFilePicker } = window as FilePicker;
  return showSaveFilePicker ? diskSink(showSaveFilePicker, suggestedName) : memorySink(suggestedName);
}

async function diskSink(
  pick: NonNullable<FilePicker['showSaveFilePicker']>,
  suggestedName: string,
): Promise<Sink | undefined> {
  try {
    const handle = await pick.call(window, { suggestedName });
    const stream = await handle.createWritable();
    return {
      write: (bytes) => stream.write(bytes),
      close: () => stream.close(),
      discard: () => stream.abort(),
    };
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') return undefined;
    throw error;
  }
}

function memorySink(suggestedName: string): Sink {
  let pieces: Uint8Array<ArrayBuffer>[] = [];
  let size = 0;
  return {
    write: async (bytes) => {
      size += bytes.length;
      if (size > mostInMemory)
        throw new Error(
          'This browser cannot write directly to disk, and the file is too large for its memory: choose a shorter window.',
        );
      pieces.push(bytes);
    },
    close: async () => {
      const link = document.createElement('a');
      link.href = URL.createObjectURL(new Blob(pieces, { type: 'text/plain' }));
      link.download = suggestedName;
      link.click();
      URL.revokeObjectURL(link.href);
    },
    discard: async () => {
      pieces = [];
    },
  };
}
