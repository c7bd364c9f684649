import { useMemo } from 'react';
import type { DraftContent, RecipientView } from '@kiraku/core/contract';
import type { Known } from '@kiraku/core/message';
import { useSessionQuery } from '../api/sessionApi.js';
import { useRecipientsQuery } from '../api/draftsApi.js';

type Recipients = DraftContent['recipients'];

const NOBODY: RecipientView[] = [];

/** What is known of those whom a message goes to, as far as it has come; without any who are not addressed any more. */
export function useDirectory(recipients: Recipients): readonly RecipientView[] {
  const addresses = recipients.map(({ address }) => address);
  const { data = NOBODY } = useRecipientsQuery(addresses, { skip: addresses.length === 0 });
  const key = JSON.stringify(addresses);
  return useMemo(() => {
    const addressed = new Set(JSON.parse(key) as string[]);
    return data.filter(({ address }) => addressed.has(address));
  }, [data, key]);
}

/** What a template's places can be filled with in a message: its first recipient, their company, and the sender. */
export function useKnown({ recipients }: DraftContent): Known {
  const { data: session } = useSessionQuery(null);
  const directory = useDirectory(recipients);
  return useMemo(() => {
    const [recipient] = recipients;
    const person = directory.find(({ address }) => address === recipient?.address);
    return {
      recipient: recipient && { ...recipient, name: recipient.name || person?.name || '' },
      company: person?.company ?? '',
      sender: session?.account ?? undefined,
    };
  }, [recipients, directory, session]);
}

/** The number of the one person that a message goes to; undefined where there are several, or nobody who is known. */
export function useReader(recipients: Recipients): number | undefined {
  const [known] = useDirectory(recipients);
  return recipients.length === 1 ? (known?.personId ?? undefined) : undefined;
}
