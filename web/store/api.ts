import type {
  AxisDocument,
  AxisRecord,
  Library,
  MachineDocument,
  MachineRecord,
  MachineSummary,
  ProfileRecord,
  RunRecord,
  RunSummary,
} from '@kavrid/contract';
import { createApi, fetchBaseQuery } from '@reduxjs/toolkit/query/react';

/** Everything the server keeps. Drafts of an axis are saved by the drafts slice, which knows versions and conflicts. */
export const api = createApi({
  reducerPath: 'api',
  baseQuery: fetchBaseQuery({ baseUrl: '/api' }),
  tagTypes: ['machines', 'profiles', 'runs'],
  refetchOnReconnect: true,
  endpoints: (build) => ({
    machines: build.query<readonly MachineSummary[], void>({ query: () => '/machines', providesTags: ['machines'] }),
    machine: build.query<MachineRecord, string>({ query: (id) => `/machines/${id}`, providesTags: ['machines'] }),
    createMachine: build.mutation<MachineRecord, MachineDocument>({
      query: (document) => ({ url: '/machines', method: 'POST', body: { document } }),
      invalidatesTags: ['machines'],
    }),
    saveMachine: build.mutation<MachineRecord, { id: string; version: number; document: MachineDocument }>({
      query: ({ id, version, document }) => ({ url: `/machines/${id}`, method: 'PUT', body: { version, document } }),
      invalidatesTags: ['machines'],
    }),
    deleteMachine: build.mutation<null, string>({
      query: (id) => ({ url: `/machines/${id}`, method: 'DELETE' }),
      invalidatesTags: ['machines'],
    }),
    createAxis: build.mutation<AxisRecord, { machineId: string; document: AxisDocument }>({
      query: ({ machineId, document }) => ({ url: `/machines/${machineId}/axes`, method: 'POST', body: { document } }),
      invalidatesTags: ['machines'],
    }),
    deleteAxis: build.mutation<null, string>({
      query: (id) => ({ url: `/axes/${id}`, method: 'DELETE' }),
      invalidatesTags: ['machines'],
    }),
    library: build.query<Library, void>({ query: () => '/library' }),
    profiles: build.query<readonly ProfileRecord[], void>({ query: () => '/profiles', providesTags: ['profiles'] }),
    importProfile: build.mutation<ProfileRecord, string>({
      query: (csv) => ({ url: '/profiles', method: 'POST', body: csv, headers: { 'content-type': 'text/csv' } }),
      invalidatesTags: ['profiles'],
    }),
    runs: build.query<readonly RunSummary[], string>({
      query: (axisId) => `/axes/${axisId}/runs`,
      providesTags: ['runs'],
    }),
    run: build.query<RunRecord, string>({ query: (id) => `/runs/${id}` }),
  }),
});

export const {
  useMachinesQuery,
  useMachineQuery,
  useCreateMachineMutation,
  useSaveMachineMutation,
  useDeleteMachineMutation,
  useCreateAxisMutation,
  useDeleteAxisMutation,
  useLibraryQuery,
  useProfilesQuery,
  useImportProfileMutation,
  useRunsQuery,
  useRunQuery,
} = api;
