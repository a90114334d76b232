import { EventEmitter } from 'node:events';
import type { DataEvent } from '../port/dataService.ts';

/** Events of the data for subscribers. */
export class DataEvents {
  readonly #emitter = new EventEmitter();

  constructor() {
    this.#emitter.setMaxListeners(50);
  }

  tell(event: DataEvent): void {
    this.#emitter.emit('event', event);
  }

  /** @returns what ends it */
  listen(heard: (event: DataEvent) => void): () => void {
    this.#emitter.on('event', heard);
    return () => this.#emitter.off('event', heard);
  }
}
