export { brokenText, brokenTextWords } from './brokenText.ts';
export { changeWords, fieldValueWords, fieldWords, summaryOf } from './changes/changeWords.ts';
export { type Change, changesBetween, sameJson } from './changes/changesBetween.ts';
export {
  type DocumentPath,
  type Frozen,
  type PathTo,
  type ValueAt,
  pathOf,
  pointerOf,
  valueAt,
  withValueAt,
} from './changes/documentPath.ts';
export { type Conflict, mergeDocuments } from './changes/mergeDocuments.ts';
export { type BenchMap, type BenchRegister, readBenchMap } from './benchMap.ts';
export { type AddressRule, edsToMap, mappedObjects } from './eds/edsToMap.ts';
export { type Eds, readEds } from './eds/readEds.ts';
export { axisSchema } from './checkedAxis.ts';
export {
  analogOutputMeanings,
  type ChoiceCommandDocument,
  type CommandDocument,
  type PulseCommand,
  type ScaledCommandDocument,
} from './commandDocument.ts';
export { type AxisDocument, type MachineDocument, machineSchema, ratioForms } from './documents.ts';
export { readDriveProfile } from './driveProfileFile.ts';
export { blankMapRow, type MapColumn, mapColumns, type MapRow, readMapRows, writeMapRows } from './registerMapRows.ts';
export { duplicateOf } from './duplicateOf.ts';
export {
  type AnswerOf,
  type BodyOf,
  endpoints,
  type Endpoints,
  type MachinesWanted,
  type MethodOf,
  type Problem,
  problemSchema,
  type QueryOf,
} from './endpoints.ts';
export {
  type AxisInFile,
  canonicalJson,
  fileVersion,
  type MachineFile,
  machineFileSchema,
  type RevisionInFile,
} from './file/machineFile.ts';
export { readMachineFile } from './file/readMachineFile.ts';
export { commandFormOf, commandFrom, newCommand } from './commands/commandFaces.ts';
export { newLoop } from './commands/analog.ts';
export { formOf, isPulseCommand } from './commands/pulses.ts';
export { controllerKinds } from './library/controllerEntry.ts';
export { clearingWays, commandForms, type DriveEntry } from './library/driveEntry.ts';
export { accessKinds } from './library/endValue.ts';
export { entryProblems } from './library/entryProblems.ts';
export {
  type EntryOf,
  entrySchemas,
  type LibraryEntry,
  libraryEntrySchema,
  type LibraryKind,
  originsOf,
  partOfAxis,
  partOfSpindle,
  withEntry,
} from './library/libraryEntry.ts';
export { matchesPartNumber } from './library/partNumber.ts';
export { libraryFileVersion, libraryToCsv, readLibrary } from './library/libraryFile.ts';
export { motorKinds } from './library/motorEntry.ts';
export { newEntry } from './library/newEntry.ts';
export { spindleDriveKinds } from './library/spindleDriveEntry.ts';
export {
  type Activity,
  type ClientMessage,
  clientMessageSchema,
  type DriveData,
  type FoundDevices,
  type GuideState,
  type ShownStep,
  type SearchOrder,
  type LinkLive,
  type LiveState,
  type ServerMessage,
  type BenchControl,
  type BenchMessage,
  type BenchState,
  type LiveChannel,
  type LiveInput,
  type LiveOutput,
  type LiveReadings,
  type SpindleLive,
} from './live.ts';
export {
  axesAmong,
  byKind,
  isAxis,
  type MemberDocument,
  type MemberKind,
  memberNouns,
  memberSchema,
  spindlesAmong,
} from './member.ts';
export { newAxis, newController, newMotor } from './newAxis.ts';
export { newSpindle, newSpindleCommand } from './newSpindle.ts';
export { machineFileJsonSchema, openApi } from './openApi.ts';
export { baudRates, hostSchema, type LinkDocument, serialPathSchema } from './parts.ts';
export { addressOf, type EndpointName } from './paths.ts';
export {
  type AxisRecord,
  type EntryEffect,
  type EntryRecord,
  type ImportState,
  isAxisRecord,
  isSpindleRecord,
  type MachinePage,
  type MachineRecord,
  type MachineSummary,
  type MemberRecord,
  type ProfileRecord,
  type Revision,
  type RevisionPage,
  type RunEnd,
  type RunKind,
  type RunRecord,
  type RunSummary,
  type SpindleRecord,
  type SnapshotRecord,
  type SnapshotSummary,
} from './records.ts';
export {
  measuredEvidenceSchema,
  measurementSchema,
  type MeasuredEvidence,
  type MeasuredHomes,
  type MeasuredPositions,
  type Measurement,
} from './measurement.ts';
export { readSnapshotFile, writeSnapshotFile } from './snapshotFile.ts';
export { ruleFor, type RuleName } from './rules.ts';
export { registerPurposes, type SpindleCommandDocument, type SpindleDocument } from './spindleDocument.ts';
export { newStage, screwBearings, type StageDocument, type StageDocumentOf, stageName } from './stageDocument.ts';
export { holdsPosition } from './toCore/drivePlan.ts';
export { endSheets, type EndSheets, type Lengths } from './toCore/endPlans.ts';
export type { FieldProblem } from './toCore/fieldReader.ts';
export { axisScale, type KeptProfile, memberPlan } from './toCore/memberPlan.ts';
export { plannedValues } from './toCore/plannedValues.ts';
export { checkedHoming, homingMeans } from './toCore/checkedHoming.ts';
export { spindleSpeeds } from './toCore/spindleSpeeds.ts';
export { acceptanceChanges, acceptanceDigest, hostMoveChanges, runTestChanges } from './toCore/acceptedPlan.ts';
export { inPositionWindow, moveChannels, recordedChannels, runFigures } from './toCore/runFigures.ts';
export { acceptanceReportSchema, type AcceptanceReport } from './acceptanceReport.ts';
export { homingDigest } from './toCore/homingDigest.ts';
export { homingModel, type HomingModel } from './toCore/homingModel.ts';
export { triedAxis, triedRoles } from './toCore/trialPlan.ts';
export { feedforwardOf, loopModel } from './toCore/loopModel.ts';
export { predictedHoming } from './toCore/predictedHoming.ts';
export { axisUnitOf, axisInputOf } from './toCore/axisInputOf.ts';
export { wiresOf } from './toCore/wiresOf.ts';
export { wayUnitOf } from './toCore/wayUnitOf.ts';
export { signalRuleOf, valueRuleOf } from './commands/scaled.ts';
export { spindleInputOf } from './toCore/spindleInputOf.ts';
export { measuredMechanics, type MeasuredMechanics } from './toCore/measuredMechanics.ts';
export { unitsPerRadian } from './toCore/unitsPerRadian.ts';
export { judgedHostMoves, judgedPicks, judgedSignalEnds, wantedPicks } from './toCore/judgedHostMoves.ts';
export { stageRatiosOf } from './toCore/stageRatiosOf.ts';
export { resultChanges } from './toCore/resultChanges.ts';
export { hostLoopOf, servoDefinition } from './toCore/servoDefinition.ts';
export { sharedDevices } from './toCore/sharedDevices.ts';
export { spindleEndSheets } from './toCore/spindleEndPlans.ts';
export { type SharedSupply, suppliesOf } from './toCore/suppliesOf.ts';
export {
  type AxisChannel,
  type ChannelFacts,
  channelsOf,
  choicePattern,
  type RawScale,
  type SpindleChannel,
} from './trace/channels.ts';
export { isEarlierTrace, readEarlierTrace } from './trace/earlierTrace.ts';
export {
  bytesOf,
  type Channel,
  channelValues,
  missingSample,
  mostTraceBytes,
  packSamples,
  sinceTrigger,
  startOfTrace,
  type Trace,
  type TraceHeader,
  traceHeaderSchema,
} from './trace/traceHeader.ts';
export { readCsvTable, type CsvTable, type TableReading } from './trace/csvTable.ts';
export { packImported, readImported, type Imported } from './trace/importedTrace.ts';
export { tableToTrace, type ColumnMapping, type MappingResult } from './trace/tableToTrace.ts';
export { traceToCsv } from './trace/traceToCsv.ts';
export { unreadFields } from './unread.ts';
export { unreadBeside } from './unreadBeside.ts';
export { withUnread } from './withUnread.ts';
export {
  upgradeAxis1,
  upgradeAxis2,
  upgradeEntry2,
  upgradeEntry4,
  upgradeEntry5,
  upgradeEntry8,
  upgradeMachine1,
  upgradeMember4,
  upgradeMember5,
  upgradeMember6,
  upgradeMember7,
  upgradeMember10,
  upgradeMember11,
  upgradeMember12,
  upgradeMember9,
} from './upgrades.ts';
