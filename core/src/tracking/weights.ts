import type { EvidenceName } from './evidence.js';

/** How likely a hit is a person’s where nothing speaks for or against it, as log-odds. */
export const PRIOR = 0;

/**
 * What each piece of evidence adds, as log-odds: positive for a person, negative for a machine. Written by
 * bench/src/fitJudging, save for `acted`, which nothing outweighs.
 */
export const WEIGHTS: Readonly<Record<EvidenceName, number>> = {
  acted: 40,
  'ordinary-network': 1,
  'opened-first': 0.6,
  'after-delivery': 1.6,
  'people-network': 2.4,
  'too-soon': -3.7,
  'at-delivery': -3.8,
  'image-proxy': -6.1,
  'data-centre': -2.8,
  'data-centre-later': -0.6,
  shadow: -4.3,
  'many-links': -6,
  'several-networks': -4.3,
  'links-in-turn': -2.5,
  'every-link': -2.7,
  'links-in-order': -1.2,
  'opt-out-page': -3.5,
  burst: -5.1,
  'no-browser': -5.5,
  'filter-network': -4.3,
};
