import type { BackupPassphraseRequest, BackupView } from '@kiraku/core/contract';
import { api } from './api.js';

export const backupApi = api.injectEndpoints({
  endpoints: (build) => ({
    backup: build.query<BackupView, null>({ query: () => 'settings/backup', providesTags: ['Backup'] }),
    makeBackup: build.mutation<BackupView, null>({
      query: () => ({ url: 'settings/backup', method: 'POST' }),
      invalidatesTags: ['Backup'],
    }),
    chooseBackupPassphrase: build.mutation<BackupView, BackupPassphraseRequest>({
      query: (body) => ({ url: 'settings/backup/passphrase', method: 'PUT', body }),
      invalidatesTags: ['Backup'],
    }),
  }),
});

export const { useBackupQuery, useMakeBackupMutation, useChooseBackupPassphraseMutation } = backupApi;
