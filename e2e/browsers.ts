import { existsSync } from 'node:fs';

const DEBIANS = '/usr/bin/chromium';
const SHELL = '/usr/bin/chromium-headless-shell';

export const CHROMIUM = process.env['CHROMIUM'] || DEBIANS;

/**
 * The same browser without all that windows need, which takes a third less time; it shows no desktop notifications.
 * Whoever names another browser means that one.
 */
export const LEAN_CHROMIUM = CHROMIUM === DEBIANS && existsSync(SHELL) ? SHELL : CHROMIUM;

export const BROWSER_ARGS = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--no-first-run',
  // No page of a test lives long enough to pay for the compilers that optimise: a fifth of the renderer's time.
  '--js-flags=--no-opt,--no-maglev',
];
