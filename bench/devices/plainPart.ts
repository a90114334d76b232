import { ParameterStore } from './parameterStore.ts';
import type { BenchDevice, PlainCell } from './registerCells.ts';
import { TraceMemory } from './traceMemory.ts';

/** A part of the bench that has registers, but neither parameters nor a trace nor a time of its own. */
export abstract class PlainPart implements BenchDevice {
  readonly parameters = new ParameterStore([], undefined);
  readonly trace = new TraceMemory();
  readonly restarting = false;
  readonly isRunning = false;

  abstract cells(): Readonly<Record<string, PlainCell>>;

  mayWrite(): boolean {
    return false;
  }
  parametersChanged(): void {
    // It has none.
  }
  restart(): boolean {
    return false;
  }
  advance(_seconds: number): void {
    // What it holds stands until it is written.
  }
}
