import ModbusRTU from 'modbus-serial';
import { RequestQueue } from './requestQueue.ts';

export interface ModbusTarget {
  readonly host: string;
  readonly port: number;
  readonly unit: number;
}

/** ms without an answer after which a request has failed. A closed connection is known at once; this is for silence. */
const answerTime = 800;

/** True for an answer of the device that says no, as against silence. */
export const isException = (error: unknown): error is { readonly modbusCode: number } =>
  typeof error === 'object' && error !== null && 'modbusCode' in error && error.modbusCode !== undefined;

/**
 * A Modbus TCP client for one device. Requests go one at a time. A read that went unanswered is asked once more; a write
 * never is, because nobody can tell whether it was done.
 */
export class ModbusClient {
  readonly #client = new ModbusRTU();
  readonly #queue = new RequestQueue();
  #open = false;

  static async connect(target: ModbusTarget, lost: () => void): Promise<ModbusClient> {
    const client = new ModbusClient();
    await client.#client.connectTCP(target.host, { port: target.port });
    client.#client.setID(target.unit);
    client.#client.setTimeout(answerTime);
    client.#open = true;
    const gone = () => {
      if (!client.#open) return;
      client.#open = false;
      lost();
    };
    client.#client.on('close', gone);
    client.#client.on('error', gone);
    return client;
  }

  get open(): boolean {
    return this.#open;
  }

  async read(address: number, length: number): Promise<number[]> {
    return this.#queue.run(async () => {
      try {
        return (await this.#client.readHoldingRegisters(address, length)).data;
      } catch (error) {
        if (isException(error) || !this.#open) throw error;
        return (await this.#client.readHoldingRegisters(address, length)).data;
      }
    });
  }

  async write(address: number, words: readonly number[], urgent = false): Promise<void> {
    await this.#queue.run(async () => {
      if (words.length === 1) await this.#client.writeRegister(address, words[0] ?? 0);
      else await this.#client.writeRegisters(address, [...words]);
    }, urgent);
  }

  close(): void {
    this.#open = false;
    this.#client.close(() => undefined);
  }
}
