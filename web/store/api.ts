import {
  addressOf,
  type MemberDocument,
  type MemberRecord,
  type EntryEffect,
  type EntryRecord,
  type LibraryEntry,
  type LibraryKind,
  type MachineDocument,
  type MachinePage,
  type MachineRecord,
  type MachinesWanted,
  type ProfileRecord,
  type RevisionPage,
  type RunRecord,
  type RunSummary,
} from '@kavrid/contract';
import { createApi, fetchBaseQuery, type BaseQueryFn, type FetchBaseQueryError } from '@reduxjs/toolkit/query/react';
import type { Preferences } from './preferences.ts';

export interface EntrySave {
  readonly id: string;
  readonly version: number;
  readonly item: LibraryEntry;
  readonly axes: readonly { readonly id: string; readonly version: number }[];
}

type Request =
  | string
  | {
      readonly url: string;
      readonly method: 'POST' | 'PUT' | 'DELETE';
      readonly body?: unknown;
      readonly headers?: Record<string, string>;
      /** The body is a save: whoever works here is named in it. */
      readonly signed?: true;
      /** Something is made: asked for again after a lost answer, it is made once. */
      readonly makes?: true;
    };

const plain = fetchBaseQuery({ baseUrl: '/api' });
const baseQuery: BaseQueryFn<Request, unknown, FetchBaseQueryError> = async (request, baseApi, extra) => {
  if (typeof request === 'string') return plain(request, baseApi, extra);
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

const post = (url: string, body?: unknown): Request => ({ url, method: 'POST', body, signed: true });
const make = (url: string, body: unknown): Request => ({ url, method: 'POST', body, signed: true, makes: true });
const put = (url: string, body: unknown): Request => ({ url, method: 'PUT', body, signed: true });
const remove = (url: string): Request => ({ url, method: 'DELETE' });

/** Everything the server keeps. Drafts of an axis are saved by the drafts slice, which knows versions and conflicts. */
export const api = createApi({
  reducerPath: 'api',
  baseQuery,
  tagTypes: ['machines', 'profiles', 'runs', 'revisions', 'library'],
  refetchOnReconnect: true,
  endpoints: (build) => ({
    machines: build.query<MachinePage, MachinesWanted>({
      query: (wanted) => addressOf('listMachines', {}, { ...wanted }),
      providesTags: ['machines'],
    }),
    tags: build.query<readonly string[], void>({ query: () => addressOf('listTags'), providesTags: ['machines'] }),
    machine: build.query<MachineRecord, string>({
      query: (id) => addressOf('readMachine', { id }),
      providesTags: ['machines'],
    }),
    createMachine: build.mutation<MachineRecord, MachineDocument>({
      query: (document) => make(addressOf('createMachine'), { document }),
      invalidatesTags: ['machines'],
    }),
    saveMachine: build.mutation<MachineRecord, { id: string; version: number; document: MachineDocument }>({
      query: ({ id, ...body }) => put(addressOf('saveMachine', { id }), body),
      invalidatesTags: ['machines'],
    }),
    duplicateMachine: build.mutation<MachineRecord, { id: string; name: string }>({
      query: ({ id, name }) => make(addressOf('duplicateMachine', { id }), { name }),
      invalidatesTags: ['machines'],
    }),
    deleteMachine: build.mutation<null, string>({
      query: (id) => remove(addressOf('deleteMachine', { id })),
      invalidatesTags: ['machines', 'library'],
    }),
    createAxis: build.mutation<MemberRecord, { machineId: string; document: MemberDocument }>({
      query: ({ machineId, document }) => make(addressOf('createAxis', { id: machineId }), { document }),
      invalidatesTags: ['machines'],
    }),
    duplicateAxis: build.mutation<MemberRecord, { id: string; name: string }>({
      query: ({ id, name }) => make(addressOf('duplicateAxis', { id }), { name }),
      invalidatesTags: ['machines'],
    }),
    removeAxis: build.mutation<null, string>({
      query: (id) => remove(addressOf('removeAxis', { id })),
      invalidatesTags: ['machines'],
    }),
    putBackAxis: build.mutation<MemberRecord, string>({
      query: (id) => ({ url: addressOf('putBackAxis', { id }), method: 'POST' }),
      invalidatesTags: ['machines'],
    }),
    revisions: build.query<RevisionPage, { id: string; page: number; size: number; named: boolean }>({
      query: ({ id, ...wanted }) => addressOf('listRevisions', { id }, wanted),
      providesTags: ['revisions'],
    }),
    /** A revision never changes. */
    revision: build.query<MemberRecord, { id: string; version: number }>({
      query: ({ id, version }) => addressOf('readRevision', { id, version }),
    }),
    nameRevision: build.mutation<null, { id: string; version: number; name: string }>({
      query: ({ id, version, name }) => ({
        url: addressOf('nameRevision', { id, version }),
        method: 'PUT',
        body: { name },
      }),
      invalidatesTags: ['revisions'],
    }),
    restoreRevision: build.mutation<MemberRecord, { id: string; revision: number; version: number }>({
      query: ({ id, revision, version }) => post(addressOf('restoreRevision', { id, version: revision }), { version }),
      invalidatesTags: ['revisions', 'machines'],
    }),
    library: build.query<
      { readonly total: number; readonly items: readonly EntryRecord[] },
      { shelf: LibraryKind; search: string; page: number; size: number }
    >({ query: (wanted) => addressOf('listEntries', {}, wanted), providesTags: ['library'] }),
    readEntry: build.query<EntryRecord, string>({
      query: (id) => addressOf('readEntry', { id }),
      providesTags: ['library'],
    }),
    createEntry: build.mutation<EntryRecord, LibraryEntry>({
      query: (item) => make(addressOf('createEntry'), { item }),
      invalidatesTags: ['library'],
    }),
    saveEntry: build.mutation<EntryRecord, EntrySave>({
      query: ({ id, ...body }) => put(addressOf('saveEntry', { id }), body),
      invalidatesTags: ['library', 'machines'],
    }),
    deleteEntry: build.mutation<null, string>({
      query: (id) => remove(addressOf('deleteEntry', { id })),
      invalidatesTags: ['library'],
    }),
    entryUses: build.query<readonly EntryEffect[], string>({
      query: (id) => addressOf('entryUses', { id }),
      providesTags: ['library', 'machines'],
    }),
    entryEffects: build.mutation<readonly EntryEffect[], { id: string; item: LibraryEntry }>({
      query: ({ id, item }) => ({ url: addressOf('entryEffects', { id }), method: 'POST', body: { item } }),
    }),
    importLibrary: build.mutation<{ readonly added: number; readonly alike: number }, { text: string; author: string }>(
      {
        query: ({ text, author }) => ({
          url: addressOf('importLibrary', {}, { author }),
          method: 'POST',
          body: text,
          headers: { 'content-type': 'text/plain' },
        }),
        invalidatesTags: ['library'],
      },
    ),
    profiles: build.query<readonly ProfileRecord[], void>({
      query: () => addressOf('listProfiles'),
      providesTags: ['profiles'],
    }),
    importProfile: build.mutation<ProfileRecord, string>({
      query: (csv) => ({
        url: addressOf('importProfile'),
        method: 'POST',
        body: csv,
        headers: { 'content-type': 'text/csv' },
      }),
      invalidatesTags: ['profiles'],
    }),
    renameProfile: build.mutation<void, { readonly id: string; readonly name: string }>({
      query: ({ id, name }) => ({ url: addressOf('renameProfile', { id }), method: 'PUT', body: { name } }),
      invalidatesTags: ['profiles'],
    }),
    replaceProfile: build.mutation<ProfileRecord, { readonly id: string; readonly csv: string }>({
      query: ({ id, csv }) => ({
        url: addressOf('replaceProfile', { id }),
        method: 'PUT',
        body: csv,
        headers: { 'content-type': 'text/csv' },
      }),
      invalidatesTags: ['profiles'],
    }),
    deleteProfile: build.mutation<void, string>({
      query: (id) => ({ url: addressOf('deleteProfile', { id }), method: 'DELETE' }),
      invalidatesTags: ['profiles'],
    }),
    runs: build.query<readonly RunSummary[], string>({
      query: (memberId) => addressOf('listRuns', { id: memberId }),
      providesTags: ['runs'],
    }),
    run: build.query<RunRecord, string>({ query: (id) => addressOf('readRun', { id }) }),
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
  useProfilesQuery,
  useImportProfileMutation,
  useRenameProfileMutation,
  useReplaceProfileMutation,
  useDeleteProfileMutation,
  useRunsQuery,
  useRunQuery,
} = api;
