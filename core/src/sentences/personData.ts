import type { PersonData } from '../contract/privacy.js';
import { exactWords } from '../time/words.js';
import { secondsText } from './file.js';
import { reasonText } from './verdict.js';

/** Everything that is known of one person, as a plain text for whoever asked for it. Times are UTC. */
export function personDataText({ person, messages, incoming, events }: PersonData): string {
  const at = (time: number | null) => (time === null ? 'not sent' : exactWords(time, 'UTC'));
  return [
    `What is known about ${person.name || person.address}`,
    '',
    `Address: ${person.address}`,
    ...(person.company ? [`Company: ${person.company}`] : []),
    ...(person.phone ? [`Phone: ${person.phone}`] : []),
    ...(person.zone ? [`Time zone: ${person.zone}`] : []),
    ...(person.tags.length > 0 ? [`Tags: ${person.tags.join(', ')}`] : []),
    ...(person.note ? [`Note: ${person.note}`] : []),
    `Known since: ${at(person.createdAt)}`,
    `Tracking: ${person.optedOutAt !== null ? `opted out on ${at(person.optedOutAt)}` : person.doNotTrack ? 'switched off' : 'allowed'}`,
    '',
    `Messages (${messages.length}):`,
    ...messages.map(({ sentAt, subject, as }) => `- ${at(sentAt)}: “${subject}” (${as})`),
    '',
    `Replies and receipts (${incoming.length}):`,
    ...incoming.map(({ at: time, kind, subject, words }) => `- ${at(time)}: ${kind}, “${subject}”: ${words}`),
    '',
    `Activity (${events.length}; times are UTC):`,
    ...events.map(({ at: time, kind, subject, link, file, page, readMs, givenAddress, ip, userAgent, place, reason }) =>
      [
        `- ${at(time)}: ${kind.replaceAll('_', ' ')}, “${subject}”`,
        link,
        file && `“${file}”`,
        page && `page ${page}`,
        readMs && `for ${secondsText(readMs)}`,
        givenAddress && `gave the address ${givenAddress}`,
        ip && `from ${ip}`,
        place,
        userAgent,
        reason && `not counted: ${reasonText(reason)}`,
      ]
        .filter(Boolean)
        .join('; '),
    ),
    '',
  ].join('\n');
}
