import { group } from 'd3-array';
import { filesOfSitting, type FileSitting, type Sitting } from '../activity/sittings.js';
import { isOf } from '../activity/kinds.js';
import type { EventView } from '../contract/event.js';
import { counted } from '../time/words.js';
import { isNow } from '../tracking/recency.js';
import { deviceText, eventText } from './event.js';
import { secondsText } from './file.js';
import { joined, personText, quoted, times } from './words.js';

/** So many links are named that were clicked in one sitting. */
const MAX_LINKS_NAMED = 2;

export interface SittingView {
  /** Epoch milliseconds. */
  now: number;
  /** How many pages a file has that was sent; null where it has none, or is not known. */
  pagesOf(sentFileId: number | null): number | null;
}

/**
 * What somebody did in a sitting, after their name: “opened it, clicked “the proposal” and read 3 of 8 pages of
 * “Panels.pdf” for 5 min 25 s”. Of a single event that nobody sits at a message for: “Replied: “Gladly””.
 */
export function sittingText(sitting: Sitting, view: SittingView): string {
  const { events } = sitting;
  if (!isActivity(sitting)) return eventText(events[0]!);
  const opens = events.filter(({ kind }) => kind === 'opened');
  const downloads = events.filter(({ kind }) => kind === 'downloaded');
  const parts = [
    opens.length > 0 && (opens.length === 1 ? 'opened it' : times('opened it', opens.length)),
    clicksText(events),
    ...filesOfSitting(sitting).map((file) => fileText(file, sitting, view)),
    downloads.length > 0 && `downloaded ${downloads[0]!.label ? quoted(downloads[0]!.label) : 'a file'}`,
  ].filter((part) => part !== false);
  return parts.length < 2 ? parts.join('') : `${parts.slice(0, -1).join(', ')} and ${parts.at(-1)}`;
}

/** Whether somebody sat at the message, rather than something having come by mail. */
export function isActivity({ events }: Sitting): boolean {
  return isOf('activity', events[0]!.kind);
}

/** With what and where, in the order of use: “phone, then computer”; in full where it was one device. */
export function sittingContext({ events }: Sitting): string {
  const earliestFirst = [...events].reverse();
  const whole = distinct(earliestFirst.map(deviceText));
  const devices = whole.length > 1 ? distinct(earliestFirst.map(({ device }) => device)) : whole;
  return joined([devices.join(', then '), ...distinct(earliestFirst.map(({ place }) => place))], ' · ');
}

/** A day whose sittings are folded: “3 sittings: Marit Oakes 2, Jun Falk 1; 2 not counted”. */
export function sittingsDayText(sittings: readonly Sitting[]): string {
  const own = sittings.filter((sitting) => sitting.counted && isActivity(sitting));
  const people = [...group(own, ({ recipient }) => personText(recipient))];
  const who = people.map(([name, theirs]) => (people.length > 1 ? `${name} ${theirs.length}` : name)).join(', ');
  const others = sittings.filter((sitting) => sitting.counted && !isActivity(sitting));
  const notCounted = sittings.filter((sitting) => !sitting.counted).length;
  return joined(
    [
      own.length > 0 && `${counted(own.length, 'sitting')}: ${who}`,
      ...others.map(({ recipient, events }) => `${personText(recipient)}: ${eventText(events[0]!)}`),
      notCounted > 0 && `${notCounted} not counted`,
    ],
    '; ',
  );
}

function clicksText(events: readonly EventView[]): string | false {
  const clicks = events.filter(({ kind }) => kind === 'clicked').reverse();
  if (clicks.length === 0) return false;
  const labels = distinct(clicks.map(({ label }) => label));
  if (labels.length === 0 || labels.length > MAX_LINKS_NAMED) return `clicked ${counted(clicks.length, 'link')}`;
  return `clicked ${labels.map(quoted).join(' and ')}`;
}

/** “read 3 of 8 pages of “Panels.pdf” for 5 min 25 s”, “is on page 6 of 8 in “Panels.pdf”, 2 min so far”. */
function fileText(file: FileSitting, { to, counted: isCounted, events }: Sitting, { now, pagesOf }: SittingView) {
  const { sentFileId, label, pages, readMs, lastPage } = file;
  const name = label ? quoted(label) : 'a file';
  const all = pagesOf(sentFileId);
  const isOpen = isCounted && isNow(to, now) && events[0]!.sentFileId === sentFileId;
  const ms = readMs > 0 ? secondsText(readMs) : null;
  if (isOpen && lastPage !== null && all !== null)
    return `is on page ${lastPage} of ${all} in ${name}${ms === null ? '' : `, ${ms} so far`}`;
  if (pages === 0 || all === null) return `viewed ${name}${ms === null ? '' : ` for ${ms}`}`;
  const part = pages === all ? `all ${counted(all, 'page')}` : `${pages} of ${counted(all, 'page')}`;
  return `read ${part} of ${name}${ms === null ? '' : ` for ${ms}`}`;
}

function distinct(words: readonly (string | null)[]): string[] {
  return [...new Set(words.filter((word): word is string => Boolean(word)))];
}
