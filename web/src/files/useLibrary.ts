import { SECOND } from '@kiraku/core/time';
import { isUnderway } from '@kiraku/core/sentences';
import { useFilesQuery } from '../shared/api/filesApi.js';

/** The library, asked for again while some file of it is being made ready. */
export function useLibrary() {
  const query = useFilesQuery(null);
  const underway = query.data?.some(({ versions: [newest] }) => newest && isUnderway(newest));
  useFilesQuery(null, { pollingInterval: underway ? SECOND : 0 });
  return query;
}
