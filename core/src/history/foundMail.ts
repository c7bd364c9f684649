import type { HistoryFound, LeftOut } from '../contract/history.js';
import { LEFT_OUT } from '../contract/history.js';
import { addressKey } from '../message/address.js';
import type { EarlierMail } from './earlierMail.js';

/** Somebody to whom mails went. */
export interface PersonFound {
  name: string;
  address: string;
  messages: number;
  lastAt: number;
}

interface SenderFound {
  address: string;
  messages: number;
  people: Map<string, PersonFound>;
}

/** What is found in mails, one after the other: it keeps who there is, and none of the mails. */
export class FoundMail {
  private readonly senders = new Map<string, SenderFound>();
  private readonly leftOut = new Map<LeftOut, number>();
  private firstAt = Infinity;
  private lastAt = -Infinity;

  add({ at, from, recipients }: EarlierMail): void {
    this.firstAt = Math.min(this.firstAt, at);
    this.lastAt = Math.max(this.lastAt, at);
    const sender = this.sender(from.address);
    sender.messages += 1;
    for (const { name, address } of recipients) {
      const key = addressKey(address);
      const known = sender.people.get(key) ?? { name: '', address, messages: 0, lastAt: -Infinity };
      // As they were called last.
      if (name !== '' && (at >= known.lastAt || known.name === '')) known.name = name;
      known.messages += 1;
      known.lastAt = Math.max(known.lastAt, at);
      sender.people.set(key, known);
    }
  }

  leaveOut(why: LeftOut): void {
    this.leftOut.set(why, (this.leftOut.get(why) ?? 0) + 1);
  }

  /** @param own addresses of the user; where nobody has one of these, it is whoever sent most */
  view(own: ReadonlySet<string>): HistoryFound {
    const senders = [...this.senders]
      .map(([key, { address, messages, people }]) => ({ address, messages, people: people.size, isOwn: own.has(key) }))
      .sort((a, b) => b.messages - a.messages);
    if (senders[0] && !senders.some(({ isOwn }) => isOwn)) senders[0].isOwn = true;
    return {
      senders,
      firstAt: this.senders.size === 0 ? null : this.firstAt,
      lastAt: this.senders.size === 0 ? null : this.lastAt,
      leftOut: LEFT_OUT.flatMap((why) => {
        const count = this.leftOut.get(why) ?? 0;
        return count === 0 ? [] : [{ why, count }];
      }),
    };
  }

  /** To whom some senders wrote. */
  peopleOf(senders: ReadonlySet<string>): PersonFound[] {
    const all = new Map<string, PersonFound>();
    for (const key of senders)
      for (const [address, found] of this.senders.get(key)?.people ?? []) {
        const known = all.get(address);
        all.set(address, known ? together(known, found) : found);
      }
    return [...all.values()];
  }

  private sender(address: string): SenderFound {
    const key = addressKey(address);
    const sender = this.senders.get(key) ?? { address, messages: 0, people: new Map<string, PersonFound>() };
    this.senders.set(key, sender);
    return sender;
  }
}

function together(a: PersonFound, b: PersonFound): PersonFound {
  const [older, newer] = a.lastAt <= b.lastAt ? [a, b] : [b, a];
  return { ...newer, name: newer.name || older.name, messages: a.messages + b.messages };
}
