import { useMemo } from 'react';
import type { DraftContent } from '@kiraku/core/contract';
import { addressKey, type Known } from '@kiraku/core/message';
import { useSessionQuery } from '../api/sessionApi.js';
import { usePeopleQuery } from '../api/draftsApi.js';

/** What a template's places can be filled with in a message: its first recipient, their company, and the sender. */
export function useKnown({ recipients: [recipient] }: DraftContent): Known {
  const { data: session } = useSessionQuery(null);
  const { data: people } = usePeopleQuery(recipient?.address ?? '', { skip: !recipient });
  return useMemo(() => {
    const person = recipient && people?.find((one) => addressKey(one.address) === addressKey(recipient.address));
    return {
      recipient: recipient && { ...recipient, name: recipient.name || person?.name || '' },
      company: person?.company ?? '',
      sender: session?.account ?? undefined,
    };
  }, [recipient, people, session]);
}

/** The number of the one person that a message goes to; undefined where there are several, or nobody who is known. */
export function useReader({ length, 0: recipient }: DraftContent['recipients']): number | undefined {
  const { data: people } = usePeopleQuery(recipient?.address ?? '', { skip: length !== 1 });
  if (length !== 1 || !recipient) return undefined;
  return people?.find((one) => addressKey(one.address) === addressKey(recipient.address))?.id;
}
