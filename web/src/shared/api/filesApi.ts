import type { FileReadings, FileUse, FilesView, FileView, SentFile, SentFileChange } from '@kiraku/core/contract';
import { api } from './api.js';
import { onPushed } from './pushed.js';

export const filesApi = api.injectEndpoints({
  endpoints: (build) => ({
    files: build.query<FileView[], null>({ query: () => 'files', providesTags: ['Files'] }),
    file: build.query<FileView, number>({ query: (id) => `files/${id}`, providesTags: ['Files'] }),
    renameFile: build.mutation<FileView, { id: number; name: string }>({
      query: ({ id, name }) => ({ url: `files/${id}`, method: 'PATCH', body: { name } }),
      invalidatesTags: ['Files'],
    }),
    removeFile: build.mutation<undefined, number>({
      query: (id) => ({ url: `files/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Files'],
    }),
    restoreFile: build.mutation<FileView, number>({
      query: (id) => ({ url: `files/${id}/restore`, method: 'POST' }),
      invalidatesTags: ['Files'],
    }),
    fileReadings: build.query<FileReadings, number>({
      query: (id) => `files/${id}/readings`,
      providesTags: ['Readings'],
    }),
    fileUses: build.query<FileUse[], number>({ query: (id) => `files/${id}/uses`, providesTags: ['Readings'] }),
    messageReadings: build.query<FileReadings, number>({
      query: (id) => `messages/${id}/readings`,
      providesTags: ['Readings'],
    }),
    changeSentFile: build.mutation<SentFile, SentFileChange & { id: number; messageId: number }>({
      query: ({ id, messageId: _, ...body }) => ({ url: `sent-files/${id}`, method: 'PATCH', body }),
      invalidatesTags: (_result, _error, { messageId }) => [{ type: 'Message', id: messageId }],
    }),
    filesSettings: build.query<FilesView, null>({ query: () => 'settings/files', providesTags: ['FilesSettings'] }),
    saveFilesSettings: build.mutation<FilesView, Omit<FilesView, 'converts'>>({
      query: (body) => ({ url: 'settings/files', method: 'PUT', body }),
      invalidatesTags: ['FilesSettings'],
    }),
  }),
});

export const {
  useFilesQuery,
  useFileQuery,
  useRenameFileMutation,
  useRemoveFileMutation,
  useRestoreFileMutation,
  useFileReadingsQuery,
  useFileUsesQuery,
  useMessageReadingsQuery,
  useChangeSentFileMutation,
  useFilesSettingsQuery,
  useSaveFilesSettingsMutation,
} = filesApi;

// What is shown of readings is loaded again when somebody reads.
onPushed(({ events, corrected }, { dispatch }) => {
  const isRead = [...events, ...corrected].some(({ sentFileId }) => sentFileId !== null);
  if (isRead) dispatch(api.util.invalidateTags(['Readings', 'Files']));
});

/** Where the bytes of a version are, as they are shown. */
export function contentUrl(versionId: number): string {
  return `/api/files/versions/${versionId}/content`;
}
