import { App } from 'antd';
import { useNavigate } from 'react-router';
import { problemOf, type QueryError } from '../api/api.js';
import { useReplyMutation } from '../api/draftsApi.js';

/**
 * Begins a reply and goes to it.
 *
 * @returns how, with the number of the message and of one recipient’s copy (null: to everybody), and whether it is under way
 */
export function useReply(): [reply: (id: number, copyId: number | null) => Promise<void>, isLoading: boolean] {
  const [begin, { isLoading }] = useReplyMutation();
  const navigate = useNavigate();
  const { message } = App.useApp();
  const reply = async (id: number, copyId: number | null) => {
    const { data, error } = await begin({ id, copyId });
    if (error) message.error(problemOf(error as QueryError).detail);
    if (data) await navigate(`/write/${data.id}`);
  };
  return [reply, isLoading];
}
