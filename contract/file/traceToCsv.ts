import {
  isAxisTrace,
  spindleChannels,
  traceChannels,
  type SpindleChannel,
  type Trace,
  type TraceChannel,
} from '../records.ts';

const headings: Readonly<Record<TraceChannel, string>> = {
  demandPosition: 'demand position ({u})',
  actualPosition: 'actual position ({u})',
  demandSpeed: 'demand speed ({u}/s)',
  actualSpeed: 'actual speed ({u}/s)',
  followingError: 'following error ({u})',
  torque: 'torque (%)',
  inputs: 'inputs',
  statusword: 'statusword',
};
const spindleHeadings: Readonly<Record<SpindleChannel, string>> = {
  hertz: 'output (Hz)',
  speed: 'motor speed (rpm)',
  current: 'current (A)',
  torque: 'motor torque (N·m)',
  busVolts: 'DC bus (V)',
};

/** A trace as RFC 4180 CSV: a line a sample, the time in s first. */
export function traceToCsv(trace: Trace, axisUnit: string): string {
  if (isAxisTrace(trace)) {
    const { channels } = trace;
    const titles = traceChannels.map((name) => headings[name].replace('{u}', axisUnit));
    return table(
      trace.period,
      titles,
      traceChannels.map((name) => channels[name]),
    );
  }
  const { channels } = trace;
  const titles = spindleChannels.map((name) => spindleHeadings[name]);
  return table(
    trace.period,
    titles,
    spindleChannels.map((name) => channels[name]),
  );
}

function table(period: number, titles: readonly string[], columns: readonly (readonly number[])[]): string {
  const lines = (columns[0] ?? []).map((_, k) =>
    [Number((k * period).toPrecision(12)), ...columns.map((column) => column[k])].join(','),
  );
  return [['time (s)', ...titles].join(','), ...lines, ''].join('\r\n');
}
