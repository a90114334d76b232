export {
  axisChannels,
  choicePattern,
  channelsOf,
  spindleChannels,
  type AxisChannel,
  type ChannelFacts,
  type RawScale,
  type SpindleChannel,
} from './channels.ts';
export { isEarlierTrace, readEarlierTrace, type EarlierReading } from './earlierTrace.ts';
export {
  bytesOf,
  channelSchema,
  channelValues,
  missingSample,
  mostTraceBytes,
  packSamples,
  sinceTrigger,
  startOfTrace,
  traceHeaderSchema,
  type Channel,
  type Trace,
  type TraceHeader,
} from './traceHeader.ts';
export { traceToCsv } from './traceToCsv.ts';
export { readCsvTable, type CsvTable, type TableReading } from './csvTable.ts';
export { packImported, readImported, type Imported } from './importedTrace.ts';
export { tableToTrace, type ColumnMapping, type MappingResult } from './tableToTrace.ts';
