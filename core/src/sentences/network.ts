import type { NetworkView } from '../contract/judging.js';
import { joined } from './words.js';

const SEEN_AS = { filter: 'Behaves like a security filter', people: 'People read here' };

/** What a network was seen to do: “Behaves like a security filter: 6 sightings of a filter, 1 of people”. */
export function networkText({ seenAs, filter, people }: Pick<NetworkView, 'seenAs' | 'filter' | 'people'>): string {
  const seen = joined(
    [filter > 0 && `${sightings(filter)} of a filter`, people > 0 && `${sightings(people)} of people`],
    ', ',
  );
  return `${seenAs === null ? 'Not clear yet' : SEEN_AS[seenAs]}: ${seen || 'nothing seen lately'}`;
}

function sightings(count: number): string {
  return `${count} ${count === 1 ? 'sighting' : 'sightings'}`;
}
