import { Injectable } from '@nestjs/common';
import {
  IMPORT_ACTIONS,
  type ImportAction,
  type ImportReport,
  type ImportRow,
  type SheetFormat,
  type Columns,
} from '@kiraku/core/contract';
import { addressKey, addressProblem, MESSAGE_LIMITS } from '@kiraku/core/message';
import { cleanTags, isYes, MAX_TAGS, tagsIn, tagsProblem } from '@kiraku/core/people';
import { isTimeZone } from 'class-validator';
import { Clock } from '../environment/clock.js';
import { invalid } from '../http/problem.js';
import { RecipientsRepository } from '../messages/recipients.repository.js';
import { SettingsRepository } from '../settings/settings.repository.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { PeopleRepository, type PersonRowStored } from './people.repository.js';
import { readCards, readCsv, type Entry } from './sheets.js';
import { TagsRepository } from './tags.repository.js';

/** What the last import changed, so that it can be undone. */
const LAST = 'people.import';
const MAX_IMPORT_ROWS = 200;
const KEYS_AT_ONCE = 500;

interface Undo {
  created: number[];
  before: Known[];
}

type Stored = Pick<PersonRowStored, 'id' | 'name' | 'company' | 'phone' | 'zone' | 'note' | 'doNotTrack'>;
type Known = Stored & { tags: string[] };

interface Planned extends ImportRow {
  known: Known | undefined;
  values: Omit<Known, 'id'>;
}

/** Imports people from a file: first only says what would become of each, then does it, and can take it back. */
@Injectable()
export class PeopleImport {
  constructor(
    private readonly people: PeopleRepository,
    private readonly tags: TagsRepository,
    private readonly recipients: RecipientsRepository,
    private readonly settings: SettingsRepository,
    private readonly unit: UnitOfWork,
    private readonly clock: Clock,
  ) {}

  /** @param apply whether it is done, or only looked at */
  import(format: SheetFormat, text: string, columns: Columns | null, apply: boolean): ImportReport {
    const { heads, sample, columns: used, entries } = format === 'csv' ? readCsv(text, columns) : readCards(text);
    const planned = this.plan(entries);
    if (apply) this.apply(planned);
    const counts = Object.fromEntries(
      IMPORT_ACTIONS.map((action) => [action, planned.filter((row) => row.action === action).length]),
    ) as Record<ImportAction, number>;
    const rows = [...planned]
      .sort((a, b) => Number(b.action === 'refused') - Number(a.action === 'refused'))
      .slice(0, MAX_IMPORT_ROWS)
      .map(({ entry, action, name, address, problem }) => ({ entry, action, name, address, problem }));
    return { heads, sample, columns: used, counts, rows, applied: apply };
  }

  /** Takes the last import back. People who were written to since stay. Returns how many are gone again. */
  undo(): number {
    const last = this.settings.get<Undo>(LAST);
    if (!last) throw invalid('There is no import to undo.');
    return this.unit.commit(() => {
      for (const known of last.before) this.set(known);
      this.unit.noteMessagesTo(last.before.map(({ id }) => id));
      this.settings.remove(LAST);
      return this.people.removeUnwritten(last.created);
    });
  }

  /** What an import has changed of somebody who is erased is not brought back by its undo. */
  forget(personId: number): void {
    const last = this.settings.get<Undo>(LAST);
    if (!last) return;
    const created = last.created.filter((id) => id !== personId);
    this.settings.set(LAST, { created, before: last.before.filter(({ id }) => id !== personId) } satisfies Undo);
  }

  private plan(entries: Entry[]): Planned[] {
    const known = new Map<string, Known>();
    const keys = entries.map(({ address }) => addressKey(address));
    for (let from = 0; from < keys.length; from += KEYS_AT_ONCE) {
      const rows = [...this.people.byKeys(keys.slice(from, from + KEYS_AT_ONCE))];
      const tags = this.tags.of(rows.map(([, { id }]) => id));
      for (const [key, row] of rows) known.set(key, { ...row, tags: tags.get(row.id) ?? [] });
    }
    const seen = new Set<string>();
    return entries.map((entry, index) => {
      const key = keys[index]!;
      const problem = seen.has(key) ? 'The same address is above.' : problemOf(entry);
      seen.add(key);
      const row = known.get(key);
      const values = merged(entry, row);
      const action = problem ? 'refused' : !row ? 'new' : differs(values, row) ? 'change' : 'same';
      return { entry: index + 1, action, name: values.name, address: entry.address, problem, known: row, values };
    });
  }

  private apply(planned: Planned[]): void {
    const now = this.clock.now();
    this.unit.commit(() => {
      const undo: Undo = { created: [], before: [] };
      const spelled = this.tags.spelled(planned.flatMap(({ values }) => values.tags));
      const spelling = new Map(spelled.map((tag) => [tag.toLowerCase(), tag]));
      for (const { action, known, address, values: read } of planned) {
        const values = { ...read, tags: read.tags.map((tag) => spelling.get(tag.toLowerCase())!) };
        if (action === 'new') {
          const id = this.recipients.ensure({ name: values.name, address }, now);
          this.set({ id, ...values });
          undo.created.push(id);
        } else if (action === 'change') {
          const { id, name, company, phone, zone, note, doNotTrack, tags } = known!;
          undo.before.push({ id, name, company, phone, zone, note, doNotTrack, tags });
          this.set({ id, ...values });
        }
      }
      this.unit.noteMessagesTo(undo.before.map(({ id }) => id));
      this.settings.set(LAST, undo);
    });
  }

  /** Nobody had tags when an import of an older version was done. */
  private set({ id, tags = [], ...values }: Known): void {
    this.people.set(id, values);
    this.tags.replace(id, tags);
  }
}

/** What is known, with what the file says instead; an empty cell says nothing, and nobody’s opt-out is undone. */
function merged(entry: Entry, row: Known | undefined): Omit<Known, 'id'> {
  return {
    name: entry.name || row?.name || '',
    company: entry.company || row?.company || '',
    phone: entry.phone || row?.phone || '',
    zone: entry.zone || row?.zone || '',
    note: entry.note || row?.note || '',
    tags: cleanTags([...(row?.tags ?? []), ...tagsIn(entry.tags)]).slice(0, MAX_TAGS),
    doNotTrack: isYes(entry.doNotTrack) || (row?.doNotTrack ?? false),
  };
}

function differs({ tags, ...values }: Omit<Known, 'id'>, row: Known): boolean {
  // None is taken away.
  if (tags.length > row.tags.length) return true;
  return Object.entries(values).some(([field, value]) => row[field as keyof Known] !== value);
}

const PHONE = /^[\d\s()+./-]{0,40}$/;

function problemOf({ name, address, company, phone, zone, note, tags }: Entry): string | null {
  if (address === '') return 'It has no address.';
  const wrong = addressProblem(address);
  if (wrong) return wrong;
  if (name.length > MESSAGE_LIMITS.maxNameChars || company.length > MESSAGE_LIMITS.maxNameChars)
    return `A name has at most ${MESSAGE_LIMITS.maxNameChars} characters.`;
  if (!PHONE.test(phone)) return `“${phone}” is no phone number.`;
  if (zone !== '' && !isTimeZone(zone)) return `“${zone}” is no time zone. Name it like Europe/Helsinki.`;
  if (note.length > MESSAGE_LIMITS.maxNoteChars)
    return `A note can have at most ${MESSAGE_LIMITS.maxNoteChars} characters.`;
  return tagsProblem(tagsIn(tags));
}
