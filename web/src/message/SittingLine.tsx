import { Button } from 'antd';
import { useState } from 'react';
import {
  deviceText,
  eventText,
  isActivity,
  notCountedText,
  personText,
  secondsText,
  sittingContext,
  sittingText,
  subjectText,
  uncertainText,
} from '@kiraku/core/sentences';
import type { Sitting } from '@kiraku/core/activity';
import type { EventView } from '@kiraku/core/contract';
import { isNow } from '@kiraku/core/tracking';
import { Verdict } from '../judging/Verdict.js';
import { useNow } from '../shared/hooks/useNow.js';
import { When } from '../shared/ui/When.js';
import styles from './sittings.module.css';

/** So many visits of pages are shown at first, the newest. */
const VISITS_SHOWN = 12;

export interface SittingLineProps {
  sitting: Sitting;
  /** How many pages a file has that was sent. */
  pagesOf(sentFileId: number | null): number | null;
  withSubject: boolean;
  /** Whether its events are shown until somebody folds them. */
  isOpenByDefault: boolean;
}

/** What somebody did in one sitting, in a sentence; its events below it, where they are wanted. */
export function SittingLine({ sitting, pagesOf, withSubject, isOpenByDefault }: SittingLineProps) {
  const now = useNow();
  const [isToggled, setToggled] = useState(false);
  const isOpen = isOpenByDefault !== isToggled;
  const { events, counted, reason, recipient, to } = sitting;
  const [newest] = events;
  const who = personText(recipient);
  const isRecent = counted && isNow(to, now);
  const uncertain = uncertainText(events);
  const evidence = events.find((event) => event.reason === reason)?.evidence ?? null;
  const requests = events.reduce((sum, { times }) => sum + times, 0);
  return (
    <li className={counted ? styles.sitting : `${styles.sitting} ${styles.notCounted}`}>
      <span className={isRecent ? 'tone-now' : 'soft'}>
        <When at={to} />
      </span>
      <span className={styles.what}>
        <b>{who}</b>
        {isActivity(sitting) ? ' ' : ': '}
        {sittingText(sitting, { now, pagesOf })} {withSubject && subjectText(newest!)}{' '}
        <span className="soft">{sittingContext(sitting)}</span>
        {uncertain !== null && <span className="soft"> · {uncertain}</span>}
        {reason !== null && (
          <span className={`${styles.reason} soft`}>{notCountedText({ reason, evidence }, requests)}</span>
        )}
      </span>
      {events.length > 1 && (
        <Button
          type="link"
          size="small"
          className={`${styles.open} no-print`}
          aria-expanded={isOpen}
          aria-label={`${isOpen ? 'Hide details' : 'Details'} of ${who}, ${sittingText(sitting, { now, pagesOf })}`}
          onClick={() => setToggled(!isToggled)}
        >
          {isOpen ? 'Hide' : 'Details'}
        </Button>
      )}
      {events.length === 1 && newest!.ip !== null && <Verdict event={newest!} />}
      {isOpen && events.length > 1 && <Events events={events} />}
    </li>
  );
}

/** The events of a sitting, the newest first; pages that follow each other in one line. */
function Events({ events }: { events: readonly EventView[] }) {
  const devices = new Set(events.map(deviceText));
  return (
    <ul className={styles.events}>
      {runsOfPages(events).map((run) => (
        <li key={run[0]!.eventId}>
          <span className="soft">
            <When at={run[0]!.at} />
          </span>
          {run[0]!.kind === 'page_viewed' ? (
            <Pages visits={run} />
          ) : (
            <OneEvent event={run[0]!} withDevice={devices.size > 1} />
          )}
        </li>
      ))}
    </ul>
  );
}

/** @param withDevice where the sitting’s own line does not say it */
function OneEvent({ event, withDevice }: { event: EventView; withDevice: boolean }) {
  return (
    <>
      <span>
        {eventText(event)} {withDevice && <span className="soft">{deviceText(event)}</span>}
      </span>
      {event.ip !== null && <Verdict event={event} />}
    </>
  );
}

/** Pages one after the other, in the order in which they were read. */
function Pages({ visits }: { visits: readonly EventView[] }) {
  const [all, setAll] = useState(false);
  const shown = all ? visits : visits.slice(0, VISITS_SHOWN);
  return (
    <span className={styles.pages}>
      <span className="soft">Pages</span>
      {shown.length < visits.length && (
        <Button type="link" size="small" className="no-print" onClick={() => setAll(true)}>
          {visits.length - shown.length} earlier,
        </Button>
      )}
      {[...shown].reverse().map((visit) => (
        <Verdict key={visit.eventId} event={visit}>
          <span className="skip">page </span>
          {visit.page}: <span className="soft">{secondsText(visit.readMs ?? 0)}</span>
        </Verdict>
      ))}
    </span>
  );
}

/** Each event by itself; visits of a file’s pages without anything in between together. */
function runsOfPages(events: readonly EventView[]): EventView[][] {
  const runs: EventView[][] = [];
  for (const event of events) {
    const run = runs.at(-1);
    const before = run?.[0];
    const goesOn =
      event.kind === 'page_viewed' && before?.kind === event.kind && before.sentFileId === event.sentFileId;
    if (goesOn) run!.push(event);
    else runs.push([event]);
  }
  return runs;
}
