import { SECOND } from '../time/words.js';

/** LibreOffice needs this long to start, and this long for each megabyte, on a machine of some years ago. */
const START_MS = 4 * SECOND;
const MS_PER_MEGABYTE = 3 * SECOND;
const MEGABYTE = 1_000_000;
/** Up to here progress goes by the clock; from here on it only comes nearer to what is never reached. */
const CERTAIN = 0.9;
const NEVER_REACHED = 0.99;

/**
 * How long a document takes to be turned into pages, where this machine is as fast as most.
 *
 * @param size in bytes
 * @returns milliseconds
 */
export function conversionMs(size: number): number {
  return START_MS + (size / MEGABYTE) * MS_PER_MEGABYTE;
}

/**
 * How far a conversion is, in whole per cent. It is an estimate by the time that passed: the program that converts does
 * not say how far it is. It grows with time and never says 100.
 *
 * @param elapsedMs since it began
 * @param expectedMs how long it should take
 */
export function conversionPercent(elapsedMs: number, expectedMs: number): number {
  const part = Math.max(0, elapsedMs) / expectedMs;
  const late = Math.max(0, part - CERTAIN);
  const approached = (NEVER_REACHED - CERTAIN) * (1 - Math.exp(-late));
  return Math.floor(100 * (Math.min(part, CERTAIN) + approached));
}
