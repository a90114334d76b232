import { lineSettings, lineText, type LineAddress } from '@kavrid/core/procedure';
import { reasonOf } from '../reasonOf.ts';
import { Line } from './line.ts';
import { connectSerial } from './serialTransport.ts';
import { connectTcp } from './tcpTransport.ts';
import type { Transport } from './transport.ts';

export type Connect = (address: LineAddress, signal: AbortSignal) => Promise<Transport>;

/** A TCP connection, or a serial port. @param serialPatience times what an answer over a serial line may take */
export const connecting =
  (serialPatience: number): Connect =>
  (address, signal) =>
    address.kind === 'tcp'
      ? connectTcp(address.host, address.port, signal)
      : connectSerial(address, signal, { patience: serialPatience });

export const connectLine: Connect = connecting(1);

/** A user of a line, notified of its state. */
export interface LineUser {
  readonly up: (line: Line) => void;
  readonly lost: (because: string) => void;
}

interface Entry {
  readonly settings: string;
  readonly users: Set<LineUser>;
  readonly abort: AbortController;
  line: Line | undefined;
}

/** The lines that are open, one for each host and port or serial port, shared by all who work with a device behind it. */
export class Lines {
  readonly #connect: Connect;
  readonly #open = new Map<string, Entry>();

  constructor(connect: Connect) {
    this.#connect = connect;
  }

  /** Joins the line to an address, or makes it. @returns what lets go of it; the last one closes it. */
  use(address: LineAddress, user: LineUser): () => void {
    const key = lineText(address);
    const entry = this.#open.get(key) ?? this.#make(key, address);
    if (entry.settings !== lineSettings(address)) {
      // Not before the caller has what it lets go with.
      queueMicrotask(() => user.lost(`it is in use: ${entry.settings}`));
      return () => undefined;
    }
    entry.users.add(user);
    if (entry.line) user.up(entry.line);
    return () => {
      if (!entry.users.delete(user) || entry.users.size > 0) return;
      if (this.#open.get(key) === entry) this.#open.delete(key);
      entry.abort.abort();
      entry.line?.end();
    };
  }

  /**
   * Has a line for oneself, for as long as one needs it.
   * @throws Error when it is in use, or cannot be opened
   */
  async borrow(
    address: LineAddress,
    signal: AbortSignal,
  ): Promise<{ readonly transport: Transport; readonly giveBack: () => void }> {
    const key = lineText(address);
    if (this.#open.has(key)) throw new Error(`${key} is in use; disconnect the drives on it first`);
    const entry: Entry = {
      settings: 'a search for devices has it',
      users: new Set(),
      abort: new AbortController(),
      line: undefined,
    };
    this.#open.set(key, entry);
    const free = () => this.#open.get(key) === entry && this.#open.delete(key);
    try {
      const transport = await this.#connect(address, signal);
      transport.onClose(() => undefined);
      return {
        transport,
        giveBack: () => {
          transport.end();
          free();
        },
      };
    } catch (error) {
      free();
      throw error;
    }
  }

  #make(key: string, address: LineAddress): Entry {
    const entry: Entry = {
      settings: lineSettings(address),
      users: new Set(),
      abort: new AbortController(),
      line: undefined,
    };
    this.#open.set(key, entry);
    const lost = (because: string) => {
      if (this.#open.get(key) === entry) this.#open.delete(key);
      for (const user of [...entry.users]) user.lost(because);
      entry.users.clear();
    };
    this.#connect(address, entry.abort.signal).then(
      (transport) => {
        if (entry.abort.signal.aborted) return transport.reset();
        entry.line = new Line(transport, lost);
        for (const user of [...entry.users]) user.up(entry.line);
      },
      (error: unknown) => lost(reasonOf(error)),
    );
    return entry;
  }

  /** Connections that stand or are being made. */
  get size(): number {
    return this.#open.size;
  }
}
