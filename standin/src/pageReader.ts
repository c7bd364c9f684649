import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { parse } from 'parse5';
import type { Mailboxes } from './mailboxes.js';
import { networkOfMailbox, PROGRAMS } from './programs.js';
import { contentsOf, eachElement, isFilePage } from './reading.js';

const SECOND = 1000;
/** The desk is only just starting, too. */
const PATIENCE_SECONDS = 60;
const FOR_MS = 15 * 60 * SECOND;
const REPORT_READING_EVERY_MS = 5 * SECOND;
/** So many seconds on a page, one after the other. */
const PACE = [9, 34, 21, 47, 15, 28];

/** Where it is written down who reads a file while the demo runs. */
export function readerFile(dataDir: string): string {
  return join(dataDir, 'standin', 'reader.json');
}

/**
 * Somebody who reads the newest file that they were sent, page after page, for a quarter of an hour: what a window that
 * shows it would tell of it.
 */
export async function readAlong(dataDir: string, mailboxes: Mailboxes): Promise<void> {
  if (!existsSync(readerFile(dataDir))) return;
  const { address } = JSON.parse(readFileSync(readerFile(dataDir), 'utf8')) as { address: string };
  const url = await newestFile(mailboxes, address);
  if (!url) return;
  const headers = { 'user-agent': PROGRAMS[0].browserAgent, 'x-forwarded-for': networkOfMailbox(address) };
  const shown = await open(url, headers);
  if (!shown?.report) return;
  const began = Date.now();
  const visits: { visit: number; page: number; ms: number }[] = [];
  while (Date.now() - began < FOR_MS) {
    const visit = visits.length + 1;
    const page = ((visit - 1) % PAGES) + 1;
    const current = { visit, page, ms: 0 };
    visits.push(current);
    for (let left = PACE[visit % PACE.length]! * SECOND; left > 0; left -= REPORT_READING_EVERY_MS) {
      await pause(Math.min(left, REPORT_READING_EVERY_MS));
      current.ms += Math.min(left, REPORT_READING_EVERY_MS);
      await fetch(new URL(shown.report.url, url), {
        method: 'POST',
        headers,
        body: JSON.stringify({ reading: shown.report.reading, active: true, visits: [current] }),
      }).catch(() => undefined);
    }
  }
}

/** As many as the proposal has. */
const PAGES = 8;

async function newestFile(mailboxes: Mailboxes, address: string): Promise<string | undefined> {
  for (const { id } of await mailboxes.mails(address)) {
    const mail = await mailboxes.read(address, id);
    const found = contentsOf(mail?.html || '').links.find(isFilePage);
    if (found) return found;
  }
  return undefined;
}

/** What the page says that shows it, once somebody answers. */
async function open(url: string, headers: Record<string, string>) {
  for (let second = 0; second < PATIENCE_SECONDS; second += 1) {
    const response = await fetch(url, { headers }).catch(() => null);
    if (response?.ok) return shownBy(await response.text());
    await pause(SECOND);
  }
  return null;
}

function shownBy(html: string): { report: { url: string; reading: string } | null } | null {
  let shown: string | undefined;
  eachElement(parse(html), ({ tagName, attrs }) => {
    if (tagName === 'body') shown = attrs.find(({ name }) => name === 'data-file')?.value;
  });
  return shown === undefined ? null : (JSON.parse(shown) as { report: { url: string; reading: string } | null });
}
