/** Runs one request after the other; urgent ones go before all that wait. */
export class RequestQueue {
  readonly #waiting: { readonly urgent: boolean; readonly start: () => Promise<void> }[] = [];
  #busy = false;

  /** @returns what the request answers, when its turn has come. */
  run<T>(request: () => Promise<T>, urgent = false): Promise<T> {
    return new Promise<T>((resolve, reject) => {
      const job = { urgent, start: () => request().then(resolve, reject) };
      const firstOrdinary = this.#waiting.findIndex((each) => !each.urgent);
      if (urgent && firstOrdinary >= 0) this.#waiting.splice(firstOrdinary, 0, job);
      else this.#waiting.push(job);
      void this.#next();
    });
  }

  async #next(): Promise<void> {
    if (this.#busy) return;
    const job = this.#waiting.shift();
    if (!job) return;
    this.#busy = true;
    await job.start();
    this.#busy = false;
    void this.#next();
  }
}
