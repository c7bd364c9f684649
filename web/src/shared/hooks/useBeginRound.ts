import { App } from 'antd';
import { useNavigate } from 'react-router';
import type { AddRoundRequest } from '@kiraku/core/contract';
import { problemOf, type QueryError } from '../api/api.js';
import { useAddRoundMutation } from '../api/roundsApi.js';
import { MY_ZONE } from '../time/zone.js';

/** Begins a round of a draft, of people, or of the rows of a sheet, and goes there; says why where it cannot. */
export function useBeginRound() {
  const [add] = useAddRoundMutation();
  const { notification } = App.useApp();
  const navigate = useNavigate();
  return async (of: Partial<AddRoundRequest>) => {
    try {
      const nobody = { name: '', draftId: null, personIds: [], columns: [], recipients: [] };
      const { id } = await add({ ...nobody, zone: MY_ZONE, ...of }).unwrap();
      void navigate(`/rounds/${id}`);
    } catch (error) {
      const { title, detail } = problemOf(error as QueryError);
      notification.open({ title, description: detail, role: 'status' });
    }
  };
}
