import type { EvidenceName } from './evidence.js';

/** How likely a hit is a person’s where nothing speaks for or against it, as log-odds. */
export const PRIOR = 0;

export const WEIGHTS: Readonly<Record<EvidenceName, number>> = {
  acted: 20,
  'ordinary-network': 1,
  'opened-first': 0.7,
  'after-delivery': 1.6,
  'people-network': 2.9,
  'too-soon': -3.7,
  'image-proxy': -6.1,
  'data-centre': -3.5,
  'data-centre-later': -0.6,
  shadow: -4.3,
  'many-links': -6,
  'several-networks': -4.5,
  'links-in-turn': -3,
  'every-link': -2.9,
  burst: -5.3,
  'no-browser': -5.8,
  'filter-network': -4.4,
};
