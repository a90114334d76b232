/** The part of the package vcd-parser that the tests use; it brings no types. */
export interface ParsedDump {
  readonly timescale: string;
  readonly signal: readonly { readonly name: string; readonly wave: readonly (readonly [string, string])[] }[];
}
export const parse: (text: string) => Promise<ParsedDump>;
