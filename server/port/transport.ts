/** Zero-based addresses; words of 16 bits. */
export type ModbusRequest =
  | {
      readonly kind: 'read';
      readonly address: number;
      readonly words: number;
      /** Modbus function: holding or input registers. */
      readonly function: 3 | 4;
    }
  | { readonly kind: 'write'; readonly address: number; readonly words: readonly number[] };

export type TransportAnswer =
  | { readonly kind: 'answered'; readonly words: readonly number[] }
  | { readonly kind: 'exception'; readonly code: number };

/** A connection that carries Modbus requests. */
export interface Transport {
  /** One request at a time, and only when it is ready; else several may be under way at once. */
  readonly isHalfDuplex: boolean;
  readonly isReady: boolean;
  /** Called once, as soon as it is ready. */
  onReady(ready: () => void): void;
  /** ms after which a request has failed */
  answerTime(request: ModbusRequest): number;
  /** The pending request has failed; its answer is not wanted any more. */
  giveUp(): void;
  send(unit: number, request: ModbusRequest, answered: (answer: TransportAnswer) => void): void;
  /** Called once, when the connection has gone by itself. */
  onClose(gone: (because: string) => void): void;
  reset(): void;
  end(): void;
}
