import { timingSafeEqual } from 'node:crypto';
import { Inject, Injectable } from '@nestjs/common';
import type { CalendarRequest, CalendarView } from '@kiraku/core/contract';
import { calendarPath } from '@kiraku/core/tracking';
import { CONFIG, type Config } from '../environment/config.js';
import { Secrets } from '../settings/secrets.js';
import { SettingsRepository } from '../settings/settings.repository.js';
import { newToken } from '../tracking/tokens.js';

const CALENDAR = 'followups.calendar';

interface Stored extends CalendarRequest {
  /** What the address ends with. */
  sealed: string;
}

/** The secret address of the calendar: at the desk, or at the public address; with names, or without. */
@Injectable()
export class CalendarSettings {
  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly settings: SettingsRepository,
    private readonly secrets: Secrets,
  ) {}

  view(): CalendarView {
    const { isPublic, withNames } = this.stored() ?? { isPublic: false, withNames: true };
    const key = this.key();
    const address = isPublic ? this.config.publicUrl + calendarPath(key ?? '') : `/api/calendar/${key}.ics`;
    return { address: key === null ? null : address, isPublic, withNames };
  }

  /** Null where there is no address. */
  key(): string | null {
    const stored = this.stored();
    return stored ? this.secrets.open(stored.sealed) : null;
  }

  isKey(given: string): boolean {
    const key = Buffer.from(this.key() ?? '');
    const other = Buffer.from(given);
    return key.length > 0 && key.length === other.length && timingSafeEqual(key, other);
  }

  /** Opens the calendar at another address; the one before is good for nothing any more. */
  renew({ isPublic, withNames }: CalendarRequest): void {
    this.settings.set(CALENDAR, { isPublic, withNames, sealed: this.secrets.seal(newToken()) } satisfies Stored);
  }

  close(): void {
    this.settings.remove(CALENDAR);
  }

  /** Older versions have stored the secret alone. */
  private stored(): Stored | null {
    const stored = this.settings.get<Stored | string>(CALENDAR) ?? null;
    return typeof stored === 'string' ? { sealed: stored, isPublic: false, withNames: true } : stored;
  }
}
