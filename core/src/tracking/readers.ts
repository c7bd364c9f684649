import type { PassedOn, Reader } from '../contract/message.js';
import { counted, DAY } from '../time/words.js';
import { networkOf } from './network.js';

/** A counted event, as far as it says who made it. */
export interface ReaderHit {
  at: number;
  ip: string | null;
  device: string | null;
  system: string | null;
  program: string | null;
  place: string | null;
}

interface Group extends Reader {
  networks: Set<string>;
}

/**
 * Groups the counted events of one copy into likely readers. A device keeps its program from network to network, and
 * a network seldom holds two devices that name themselves alike.
 */
export function readersOf(hits: readonly ReaderHit[]): Reader[] {
  return groupsOf(hits).map(({ networks: _networks, ...reader }) => reader);
}

/**
 * Whether the events of one copy suggest that it was passed on. Somebody with a phone and a computer is still one person,
 * and from a cache nobody is known: both say nothing.
 */
export function passedOn(hits: readonly ReaderHit[]): PassedOn | null {
  const groups = groupsOf(hits).filter(({ device }) => device !== null);
  const [first] = groups;
  if (!first) return null;
  const strangers = groups.filter((group) => group !== first && !shares(group.networks, first.networks));
  const elsewhere = strangers.find((group) => group.places.length > 0 && !shares(group.places, first.places));
  if (elsewhere && first.places.length > 0)
    return {
      certainty: sameMoment(elsewhere, first) ? 'likely' : 'perhaps',
      reason: `another ${elsewhere.device}, in ${elsewhere.places[0]}`,
    };
  const alike = strangers.filter((group) => group.device === first.device);
  if (alike.length > 0)
    return {
      certainty: alike.length > 1 ? 'likely' : 'perhaps',
      reason: `${counted(alike.length, `other ${first.device}`)} on another network`,
    };
  return null;
}

function groupsOf(hits: readonly ReaderHit[]): Group[] {
  const groups = new Map<string, Group>();
  for (const hit of [...hits].sort((a, b) => a.at - b.at)) {
    const { device, system, program, place, ip, at } = hit;
    const key = [device, system, program].join('\n');
    const group: Group = groups.get(key) ?? {
      device,
      system,
      program,
      places: [],
      hits: 0,
      firstAt: at,
      lastAt: at,
      networks: new Set(),
    };
    groups.set(key, group);
    group.hits += 1;
    group.lastAt = at;
    if (ip) group.networks.add(networkOf(ip));
    if (place && !group.places.includes(place)) group.places.push(place);
  }
  return [...groups.values()];
}

function shares<T>(some: Iterable<T>, others: Iterable<T>): boolean {
  const set = new Set(others);
  return [...some].some((one) => set.has(one));
}

/** Nobody is in two places on one day, as a rule. */
function sameMoment(one: Reader, other: Reader): boolean {
  return one.firstAt - other.lastAt < DAY;
}
