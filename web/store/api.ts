import {
  addressOf,
  type AnswerOf,
  type BodyOf,
  type EndpointName,
  type MethodOf,
  type QueryOf,
} from '@kavrid/contract';
import { createApi, fetchBaseQuery, type BaseQueryFn, type FetchBaseQueryError } from '@reduxjs/toolkit/query/react';
import type { Preferences } from './preferences.ts';

/** What is asked of an endpoint. */
export interface Request {
  readonly url: string;
  readonly method: 'GET' | 'POST' | 'PUT' | 'DELETE';
  readonly body?: unknown;
  readonly headers?: Record<string, string>;
  /** The body is a save and names its author. */
  readonly signed?: true;
  /** Something is made: asked for again after a lost answer, it is made once. */
  readonly makes?: true;
}

const plain = fetchBaseQuery({ baseUrl: '/api' });
const baseQuery: BaseQueryFn<Request, unknown, FetchBaseQueryError> = async (request, baseApi, extra) => {
  const { signed, makes, body, ...rest } = request;
  const { author } = (baseApi.getState() as { readonly preferences: Preferences }).preferences;
  const named: unknown = signed ? { author, ...(body as object) } : body;
  if (!makes) return plain({ ...rest, body: named }, baseApi, extra);
  const asked = JSON.stringify([request.url, body]);
  const newId = unanswered.get(asked) ?? crypto.randomUUID();
  const answer = await plain({ ...rest, body: { ...(named as object), newId } }, baseApi, extra);
  // Whether a lost request was heard nobody knows: the same one again bears the same id.
  if (answer.error && typeof answer.error.status !== 'number') unanswered.set(asked, newId);
  else unanswered.delete(asked);
  return answer;
};

/** Ids of what was asked to be made, by the request whose answer was lost. */
const unanswered = new Map<string, string>();

type Parameters = Readonly<Record<string, string | number>>;
type Readable = { [N in EndpointName]: MethodOf<N> extends 'GET' ? N : never }[EndpointName];

/** Asks an endpoint of the contract’s table that only answers. */
const get = <N extends Readable>(name: N, parameters: Parameters = {}, query?: QueryOf<N>): Request => ({
  url: addressOf(name, parameters, { ...query }),
  method: 'GET',
});

/** Sends an endpoint the body that the table wants, by its method. */
const tell = <N extends EndpointName>(
  name: N,
  method: MethodOf<N>,
  parameters: Parameters,
  body?: BodyOf<N>,
): Request => ({ url: addressOf(name, parameters), method, body });

/** The same, named by whoever works here. */
const save = <N extends EndpointName>(
  name: N,
  method: MethodOf<N>,
  parameters: Parameters,
  body: BodyOf<N>,
): Request => ({ ...tell(name, method, parameters, body), signed: true });

/** The same, where something is made by it. */
const make = <N extends EndpointName>(
  name: N,
  method: MethodOf<N>,
  parameters: Parameters,
  body: BodyOf<N>,
): Request => ({ ...save(name, method, parameters, body), makes: true });

/** Sends a text as it is. */
const give = <N extends EndpointName>(
  name: N,
  method: MethodOf<N>,
  parameters: Parameters,
  text: string | Blob,
  type: string,
  query?: QueryOf<N>,
): Request => ({
  url: addressOf(name, parameters, { ...query }),
  method,
  body: text,
  headers: { 'content-type': type },
});

/** Everything the server keeps. Drafts of an axis are saved by thunks of their own, which know versions and conflicts. */
export const api = createApi({
  reducerPath: 'api',
  baseQuery,
  tagTypes: ['machines', 'profiles', 'runs', 'revisions', 'library', 'snapshots', 'evidence'],
  refetchOnReconnect: true,
  endpoints: (build) => ({
    machines: build.query<AnswerOf<'listMachines'>, QueryOf<'listMachines'>>({
      query: (wanted) => get('listMachines', {}, wanted),
      providesTags: ['machines'],
    }),
    tags: build.query<AnswerOf<'listTags'>, void>({ query: () => get('listTags'), providesTags: ['machines'] }),
    machine: build.query<AnswerOf<'readMachine'>, string>({
      query: (id) => get('readMachine', { id }),
      providesTags: ['machines'],
    }),
    createMachine: build.mutation<AnswerOf<'createMachine'>, BodyOf<'createMachine'>['document']>({
      query: (document) => make('createMachine', 'POST', {}, { document }),
      invalidatesTags: ['machines'],
    }),
    saveMachine: build.mutation<AnswerOf<'saveMachine'>, { id: string } & BodyOf<'saveMachine'>>({
      query: ({ id, ...body }) => save('saveMachine', 'PUT', { id }, body),
      invalidatesTags: ['machines'],
    }),
    duplicateMachine: build.mutation<AnswerOf<'duplicateMachine'>, { id: string } & BodyOf<'duplicateMachine'>>({
      query: ({ id, ...body }) => make('duplicateMachine', 'POST', { id }, body),
      invalidatesTags: ['machines'],
    }),
    deleteMachine: build.mutation<AnswerOf<'deleteMachine'>, string>({
      query: (id) => tell('deleteMachine', 'DELETE', { id }),
      invalidatesTags: ['machines', 'library'],
    }),
    createAxis: build.mutation<AnswerOf<'createAxis'>, { machineId: string } & BodyOf<'createAxis'>>({
      query: ({ machineId, ...body }) => make('createAxis', 'POST', { id: machineId }, body),
      invalidatesTags: ['machines'],
    }),
    duplicateAxis: build.mutation<AnswerOf<'duplicateAxis'>, { id: string } & BodyOf<'duplicateAxis'>>({
      query: ({ id, ...body }) => make('duplicateAxis', 'POST', { id }, body),
      invalidatesTags: ['machines'],
    }),
    removeAxis: build.mutation<AnswerOf<'removeAxis'>, string>({
      query: (id) => tell('removeAxis', 'DELETE', { id }),
      invalidatesTags: ['machines'],
    }),
    putBackAxis: build.mutation<AnswerOf<'putBackAxis'>, string>({
      query: (id) => tell('putBackAxis', 'POST', { id }),
      invalidatesTags: ['machines'],
    }),
    revisions: build.query<AnswerOf<'listRevisions'>, { id: string } & QueryOf<'listRevisions'>>({
      query: ({ id, ...wanted }) => get('listRevisions', { id }, wanted),
      providesTags: ['revisions'],
    }),
    /** A revision never changes. */
    revision: build.query<AnswerOf<'readRevision'>, { id: string; version: number }>({
      query: (which) => get('readRevision', which),
    }),
    nameRevision: build.mutation<AnswerOf<'nameRevision'>, { id: string; version: number } & BodyOf<'nameRevision'>>({
      query: ({ id, version, ...body }) => tell('nameRevision', 'PUT', { id, version }, body),
      invalidatesTags: ['revisions'],
    }),
    restoreRevision: build.mutation<
      AnswerOf<'restoreRevision'>,
      { id: string; revision: number } & BodyOf<'restoreRevision'>
    >({
      query: ({ id, revision, ...body }) => save('restoreRevision', 'POST', { id, version: revision }, body),
      invalidatesTags: ['revisions', 'machines'],
    }),
    library: build.query<AnswerOf<'listEntries'>, QueryOf<'listEntries'>>({
      query: (wanted) => get('listEntries', {}, wanted),
      providesTags: ['library'],
    }),
    readEntry: build.query<AnswerOf<'readEntry'>, string>({
      query: (id) => get('readEntry', { id }),
      providesTags: ['library'],
    }),
    createEntry: build.mutation<AnswerOf<'createEntry'>, BodyOf<'createEntry'>['item']>({
      query: (item) => make('createEntry', 'POST', {}, { item }),
      invalidatesTags: ['library'],
    }),
    saveEntry: build.mutation<AnswerOf<'saveEntry'>, { id: string } & BodyOf<'saveEntry'>>({
      query: ({ id, ...body }) => save('saveEntry', 'PUT', { id }, body),
      invalidatesTags: ['library', 'machines'],
    }),
    deleteEntry: build.mutation<AnswerOf<'deleteEntry'>, string>({
      query: (id) => tell('deleteEntry', 'DELETE', { id }),
      invalidatesTags: ['library'],
    }),
    entryUses: build.query<AnswerOf<'entryUses'>, string>({
      query: (id) => get('entryUses', { id }),
      providesTags: ['library', 'machines'],
    }),
    entryEffects: build.mutation<AnswerOf<'entryEffects'>, { id: string } & BodyOf<'entryEffects'>>({
      query: ({ id, ...body }) => tell('entryEffects', 'POST', { id }, body),
    }),
    importLibrary: build.mutation<AnswerOf<'importLibrary'>, { text: string; author: string }>({
      query: ({ text, author }) => give('importLibrary', 'POST', {}, text, 'text/plain', { author }),
      invalidatesTags: ['library'],
    }),
    serialPorts: build.query<AnswerOf<'listSerialPorts'>, void>({ query: () => get('listSerialPorts') }),
    snapshots: build.query<AnswerOf<'listSnapshots'>, string>({
      query: (machineId) => get('listSnapshots', { id: machineId }),
      providesTags: ['snapshots'],
    }),
    /** The values of a snapshot never change. */
    snapshot: build.query<AnswerOf<'readSnapshot'>, string>({ query: (id) => get('readSnapshot', { id }) }),
    renameSnapshot: build.mutation<AnswerOf<'renameSnapshot'>, { id: string } & BodyOf<'renameSnapshot'>>({
      query: ({ id, ...body }) => tell('renameSnapshot', 'PUT', { id }, body),
      invalidatesTags: ['snapshots'],
    }),
    deleteSnapshot: build.mutation<AnswerOf<'deleteSnapshot'>, string>({
      query: (id) => tell('deleteSnapshot', 'DELETE', { id }),
      invalidatesTags: ['snapshots'],
    }),
    profiles: build.query<AnswerOf<'listProfiles'>, void>({
      query: () => get('listProfiles'),
      providesTags: ['profiles'],
    }),
    importProfile: build.mutation<AnswerOf<'importProfile'>, string>({
      query: (csv) => give('importProfile', 'POST', {}, csv, 'text/csv'),
      invalidatesTags: ['profiles'],
    }),
    renameProfile: build.mutation<AnswerOf<'renameProfile'>, { id: string } & BodyOf<'renameProfile'>>({
      query: ({ id, ...body }) => tell('renameProfile', 'PUT', { id }, body),
      invalidatesTags: ['profiles'],
    }),
    replaceProfile: build.mutation<AnswerOf<'replaceProfile'>, { id: string; csv: string }>({
      query: ({ id, csv }) => give('replaceProfile', 'PUT', { id }, csv, 'text/csv'),
      invalidatesTags: ['profiles'],
    }),
    deleteProfile: build.mutation<AnswerOf<'deleteProfile'>, string>({
      query: (id) => tell('deleteProfile', 'DELETE', { id }),
      invalidatesTags: ['profiles'],
    }),
    runs: build.query<AnswerOf<'listRuns'>, string>({
      query: (memberId) => get('listRuns', { id: memberId }),
      providesTags: ['runs'],
    }),
    evidence: build.query<AnswerOf<'listEvidence'>, string>({
      query: (memberId) => get('listEvidence', { id: memberId }),
      providesTags: ['evidence'],
    }),
    acceptance: build.query<AnswerOf<'readAcceptance'>, { id: string; version: number }>({
      // The version is part of the cache key only: a newly saved one is fetched again.
      query: ({ id }) => get('readAcceptance', { id }),
      providesTags: ['evidence', 'runs'],
    }),
    keepAcceptance: build.mutation<AnswerOf<'keepAcceptance'>, { id: string } & BodyOf<'keepAcceptance'>>({
      query: ({ id, ...body }) => tell('keepAcceptance', 'POST', { id }, body),
      invalidatesTags: ['evidence'],
    }),
    addMeasurement: build.mutation<AnswerOf<'addMeasurement'>, { id: string } & BodyOf<'addMeasurement'>>({
      query: ({ id, ...body }) => tell('addMeasurement', 'POST', { id }, body),
      invalidatesTags: ['evidence'],
    }),
    describeRun: build.mutation<AnswerOf<'describeRun'>, { id: string } & BodyOf<'describeRun'>>({
      query: ({ id, ...body }) => tell('describeRun', 'PUT', { id }, body),
      invalidatesTags: ['runs'],
    }),
    importTrace: build.mutation<AnswerOf<'importTrace'>, { id: string; packed: Blob }>({
      query: ({ id, packed }) => give('importTrace', 'POST', { id }, packed, 'application/octet-stream'),
      invalidatesTags: ['runs'],
    }),
    run: build.query<AnswerOf<'readRun'>, string>({ query: (id) => get('readRun', { id }) }),
  }),
});

export const {
  useMachinesQuery,
  useTagsQuery,
  useMachineQuery,
  useCreateMachineMutation,
  useSaveMachineMutation,
  useDuplicateMachineMutation,
  useDeleteMachineMutation,
  useCreateAxisMutation,
  useDuplicateAxisMutation,
  useRemoveAxisMutation,
  usePutBackAxisMutation,
  useRevisionsQuery,
  useRevisionQuery,
  useNameRevisionMutation,
  useRestoreRevisionMutation,
  useLibraryQuery,
  useReadEntryQuery,
  useCreateEntryMutation,
  useSaveEntryMutation,
  useDeleteEntryMutation,
  useEntryUsesQuery,
  useEntryEffectsMutation,
  useImportLibraryMutation,
  useSerialPortsQuery,
  useSnapshotsQuery,
  useLazySnapshotQuery,
  useRenameSnapshotMutation,
  useDeleteSnapshotMutation,
  useProfilesQuery,
  useImportProfileMutation,
  useRenameProfileMutation,
  useReplaceProfileMutation,
  useDeleteProfileMutation,
  useRunsQuery,
  useEvidenceQuery,
  useAcceptanceQuery,
  useKeepAcceptanceMutation,
  useAddMeasurementMutation,
  useRunQuery,
  useDescribeRunMutation,
  useImportTraceMutation,
} = api;
