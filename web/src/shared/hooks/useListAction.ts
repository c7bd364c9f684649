import { App } from 'antd';
import { UNDONE_BY, type ListAction } from '@kiraku/core/contract';
import { actionDoneText } from '@kiraku/core/sentences';
import { problemOf, type QueryError } from '../api/api.js';
import { useApplyActionMutation } from '../api/sentApi.js';
import { useUndo } from './useUndo.js';

/**
 * Does something with messages and offers an undo; says why where it could not be done.
 *
 * @returns how (true: it was done), and whether it is under way
 */
export function useListAction(): [act: (ids: number[], action: ListAction) => Promise<boolean>, isLoading: boolean] {
  const [applyAction, { isLoading }] = useApplyActionMutation();
  const { notification } = App.useApp();
  const offerUndo = useUndo();
  const act = async (ids: number[], action: ListAction) => {
    const { error } = await applyAction({ ids, action });
    if (error) {
      const { title, detail } = problemOf(error as QueryError);
      notification.warning({ title, description: detail });
      return false;
    }
    offerUndo({
      key: `${action} ${ids.join(',')}`,
      title: actionDoneText(action, ids.length),
      undo: () => void applyAction({ ids, action: UNDONE_BY[action] }),
    });
    return true;
  };
  return [act, isLoading];
}
