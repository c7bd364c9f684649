import type { ReceivedMail } from '@kiraku/core/incoming';

/** A mail from somebody, as far as a test says nothing else. */
export function received(
  change: Partial<Omit<ReceivedMail, 'headers'>> & { headers?: Record<string, string> },
): ReceivedMail {
  const { headers = {}, ...rest } = change;
  return {
    messageIdHeader: '<one@lindqvist.example>',
    returnPath: 'marit@lindqvist.example',
    from: { name: 'Marit Oakes', address: 'marit@lindqvist.example' },
    subject: 'Re: Panels for the reading room',
    references: [],
    text: 'Thank you.',
    calendar: null,
    reports: [],
    returned: '',
    ...rest,
    headers: new Map(Object.entries(headers)),
  };
}
