import { traceChannels, type Trace, type TraceChannel } from '../records.ts';

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

/** A trace as RFC 4180 CSV: a line a sample, the time in s first. */
export function traceToCsv({ period, channels }: Trace, axisUnit: string): string {
  const head = ['time (s)', ...traceChannels.map((name) => headings[name].replace('{u}', axisUnit))].join(',');
  const lines = channels.demandPosition.map((_, k) =>
    [Number((k * period).toPrecision(12)), ...traceChannels.map((name) => channels[name][k])].join(','),
  );
  return [head, ...lines, ''].join('\r\n');
}
