import type { JudgingView, PlaceChoice } from '@kiraku/core/contract';
import { domainOf } from '@kiraku/core/message';
import { DAY } from '@kiraku/core/time';
import { readNetwork, type JudgedCopy, type Network, type Situation } from '@kiraku/core/tracking';
import type { Statements } from './statements.js';

export const DEFAULT_JUDGING: JudgingView = {
  ownNetworks: [],
  colleagues: 'count',
  respectDnt: false,
  trackForDays: null,
  notifyForDays: null,
  place: 'country',
  proxies: [],
};

/** The sender’s choices, ready for judging. */
export interface Choices extends Omit<Situation, 'copies' | 'links' | 'networkFrom' | 'optOutAsked'> {
  place: PlaceChoice;
  /** Whether an address is of the sender’s own domain. */
  isColleague(address: string): boolean;
}

/** Reads the choices as they stand now; works them out anew only where they have changed. */
export class ChoicesReader {
  private last: { text: string; choices: Choices } | undefined;

  constructor(private readonly statements: Pick<Statements, 'settings'>) {}

  read(): Choices {
    const [value, address] = (this.statements.settings.first({}) ?? [null, null]) as (string | null)[];
    const text = `${address} ${value}`;
    if (this.last?.text === text) return this.last.choices;
    const choices = choicesFrom(
      { ...DEFAULT_JUDGING, ...(JSON.parse(value ?? '{}') as Partial<JudgingView>) },
      address,
    );
    this.last = { text, choices };
    return choices;
  }
}

/** A copy as the situation of its message needs it. */
export interface SituatedCopy {
  id: number;
  sentAt: number | null;
  address: string;
}

/**
 * The situation of a message.
 *
 * @param trackForDays what was said of this message alone; null for what holds for all
 * @param links how many tracked links each copy has
 */
export function situationOf(
  choices: Choices,
  copies: Iterable<SituatedCopy>,
  trackForDays: number | null,
  { networkFrom, optOutAsked, links }: Pick<Situation, 'networkFrom' | 'optOutAsked'> & { links(): number },
): Situation {
  const judged = new Map<number, JudgedCopy>();
  for (const { id, sentAt, address } of copies) judged.set(id, { sentAt, colleague: choices.isColleague(address) });
  const trackForMs = trackForDays === null ? choices.trackForMs : trackForDays * DAY;
  return {
    ...choices,
    trackForMs,
    copies: judged,
    networkFrom,
    optOutAsked,
    // Most verdicts need not know.
    get links() {
      return links();
    },
  };
}

/** All copies of a message. */
export function copiesOf(statements: Pick<Statements, 'copies'>, messageId: number): SituatedCopy[] {
  const rows = statements.copies.all({ messageId }) as [number, number | null, string][];
  return rows.map(([id, sentAt, address]) => ({ id, sentAt, address }));
}

function choicesFrom(view: JudgingView, ownAddress: string | null | undefined): Choices {
  const ownDomain = ownAddress ? domainOf(ownAddress).toLowerCase() : null;
  return {
    ownNetworks: networksFrom(view.ownNetworks),
    colleagues: view.colleagues,
    respectDnt: view.respectDnt,
    trackForMs: view.trackForDays === null ? null : view.trackForDays * DAY,
    notifyForMs: view.notifyForDays === null ? null : view.notifyForDays * DAY,
    place: view.place,
    isColleague: (address) => domainOf(address).toLowerCase() === ownDomain,
  };
}

/** Those that can be read; what is saved has been looked at before. */
export function networksFrom(texts: readonly string[]): Network[] {
  return texts.map(readNetwork).filter((network): network is Network => network !== null);
}
