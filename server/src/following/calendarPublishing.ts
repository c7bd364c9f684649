import { Inject, Injectable } from '@nestjs/common';
import type { CalendarRequest, CalendarView } from '@kiraku/core/contract';
import { SECOND } from '@kiraku/core/time';
import { CONFIG, type Config } from '../environment/config.js';
import { Works } from '../work/works.js';
import { CalendarService } from './calendar.service.js';
import { CalendarSettings } from './calendarSettings.js';
import { closeCalendar, publishCalendar } from './publishedCalendar.js';

/** Calendar programs ask a few times a day at most. */
const CALENDAR_PAUSE_MS = 10 * SECOND;

/** Keeps the calendar at the public address as things stand, where it is wanted there. */
@Injectable()
export class CalendarPublishing {
  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly calendar: CalendarService,
    private readonly settings: CalendarSettings,
    works: Works,
  ) {
    works.add({ name: 'calendar', commitPauseMs: CALENDAR_PAUSE_MS, run: () => this.publish() });
  }

  /** Opens the calendar at another address, at once. */
  renew(request: CalendarRequest): CalendarView {
    this.settings.renew(request);
    this.publish();
    return this.settings.view();
  }

  /** Closes it, at once. */
  close(): void {
    this.settings.close();
    this.publish();
  }

  private publish(): null {
    const { isPublic, withNames } = this.settings.view();
    const key = this.settings.key();
    const { dataDir } = this.config;
    if (key !== null && isPublic) publishCalendar(dataDir, key, this.calendar.feed(withNames));
    else closeCalendar(dataDir);
    return null;
  }
}
