/*
 * Loaded before the server: the machine’s clock is ahead by as many milliseconds as stand in a file of the data folder
 * when it starts, as of a machine that was asleep.
 */
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

const file = join(process.env['KIRAKU_DATA'], 'clock-ahead');
const aheadMs = existsSync(file) ? Number(readFileSync(file, 'utf8')) : 0;
const Real = Date;
const now = () => Real.now() + aheadMs;

globalThis.Date = new Proxy(Real, {
  construct: (_real, given) => (given.length === 0 ? new Real(now()) : new Real(...given)),
  get: (_real, name) => (name === 'now' ? now : Real[name]),
});
