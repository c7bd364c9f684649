import { useMemo } from 'react';
import type { DraftContent, RecipientView } from '@kiraku/core/contract';
import { addressKey, type Known } from '@kiraku/core/message';
import { useSessionQuery } from '../api/sessionApi.js';
import { usePeopleQuery, useRecipientsQuery } from '../api/draftsApi.js';

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

const NOBODY: RecipientView[] = [];

/** What is known of those whom a message goes to, as far as it has come; without any who are not addressed any more. */
export function useDirectory(recipients: DraftContent['recipients']): readonly RecipientView[] {
  const addresses = recipients.map(({ address }) => address);
  const { data = NOBODY } = useRecipientsQuery(addresses, { skip: addresses.length === 0 });
  const key = addresses.join();
  return useMemo(() => {
    const addressed = new Set(key.split(','));
    return data.filter(({ address }) => addressed.has(address));
  }, [data, key]);
}
