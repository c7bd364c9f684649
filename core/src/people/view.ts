import { PEOPLE_ORDERS, PEOPLE_SHOWN, type PeopleFilter } from '../contract/person.js';
import { PERIODS, readPeriod } from '../time/period.js';

/** What the list of people shows, as its address says it: the filter, with the time of the last contact by its name. */
export interface PeopleView extends Omit<PeopleFilter, 'contactFrom' | 'contactTo'> {
  contact: string;
}

export const DEFAULT_PEOPLE_VIEW: PeopleView = { show: 'all', tag: '', contact: '', words: '', order: 'name' };

const READERS: { [K in keyof PeopleView]: (text: string) => PeopleView[K] } = {
  show: (text) => PEOPLE_SHOWN.find((one) => one === text) ?? DEFAULT_PEOPLE_VIEW.show,
  tag: String,
  contact: (text) => PERIODS.find(({ name }) => name === text)?.name ?? DEFAULT_PEOPLE_VIEW.contact,
  words: String,
  order: (text) => PEOPLE_ORDERS.find((one) => one === text) ?? DEFAULT_PEOPLE_VIEW.order,
};

/** Reads what an address says. What it does not name, or cannot be read, is as at first. */
export function peopleViewFrom(entries: Iterable<[string, string]>): PeopleView {
  const said = new Map(entries);
  const view = Object.entries(READERS).map(([name, read]) => [
    name,
    said.has(name) ? read(said.get(name)!) : DEFAULT_PEOPLE_VIEW[name as keyof PeopleView],
  ]);
  return Object.fromEntries(view) as PeopleView;
}

/** What an address must say for a view: only what is not as at first. */
export function peopleEntriesOf(view: PeopleView): [string, string][] {
  return Object.entries(view).filter(([name, value]) => value !== DEFAULT_PEOPLE_VIEW[name as keyof PeopleView]);
}

/** The filter that the server is asked for. `now` in epoch milliseconds, for periods like “today”. */
export function peopleFilterOf({ contact, ...view }: PeopleView, now: number): PeopleFilter {
  const { from, to } = readPeriod(contact, now) ?? { from: null, to: null };
  return { ...view, contactFrom: from, contactTo: to };
}
