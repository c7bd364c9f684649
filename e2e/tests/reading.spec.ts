import { expect, type Browser, type BrowserContextOptions, type Page } from '@playwright/test';
import type { FileReadings, MessagePage, Visit } from '@kiraku/core/contract';
import { DOCUMENTS } from '@kiraku/demo/documents';
import { rowsWith, signedIn, test, type World } from '../world.js';

test.use({ file: import.meta.filename });

let messages = 0;
/** By its own name a browser without a window would be taken for a program. */
const USER_AGENT =
  'Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/141.0.0.0 Safari/537.36';

async function newReader(browser: Browser, options: BrowserContextOptions = {}): Promise<Page> {
  return (await browser.newContext({ userAgent: USER_AGENT, ...options })).newPage();
}

/** Writes a message with the proposal as a link, and sends it. Returns its number and where the file is shown. */
async function sendProposal(page: Page, world: World): Promise<{ id: number; subject: string; url: string }> {
  messages += 1;
  const subject = `Proposal, message ${messages}`;
  const address = `reader${messages}@quillworks.example`;
  await signedIn(page, world);
  await page.goto(`${world.desk}/write?to=${address}&name=Reader%20${messages}`);
  await page.getByLabel('Subject').fill(subject);
  await page.getByRole('textbox', { name: 'Message' }).click();
  await page.keyboard.type('please read this:');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Attach' }).click();
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'From this computer …' }).click(),
  ]);
  const buffer = await DOCUMENTS.proposal.bytes();
  await chooser.setFiles({ name: `${subject}.pdf`, mimeType: 'application/pdf', buffer });
  await expect(page.getByRole('list', { name: 'Attached files' })).toContainText('8 pages');
  await expect(page.getByText(/^Saved/)).toBeVisible();
  await page.getByRole('button', { name: 'Send', exact: true }).click();
  const row = rowsWith(page, subject);
  await expect(row).toContainText('No sign of reading yet');
  const found = await page.request.get(`${world.desk}/api/messages?words=${encodeURIComponent(`message ${messages}`)}`);
  const id = ((await found.json()) as MessagePage).messages.find((one) => one.subject === subject)!.id;
  // A file that is opened within four seconds of sending would be a machine’s, until somebody acts.
  await page.waitForTimeout(4100);
  return { id, subject, url: world.fileLinks(address)[0]! };
}

/** Somebody who reads with their hand on the mouse. */
async function read(reader: Page, seconds: number): Promise<void> {
  const end = Date.now() + seconds * 1000;
  for (let n = 0; Date.now() < end; n += 1) {
    await reader.mouse.move(200 + (n % 50), 300);
    await reader.waitForTimeout(Math.min(200, Math.max(0, end - Date.now())));
  }
}

async function openFile(reader: Page, url: string): Promise<void> {
  await reader.goto(url);
  await expect(reader.locator('.page[data-page-number="1"] .textLayer')).toContainText('Panels for the reading room');
}

async function readingsOf(page: Page, world: World, id: number): Promise<FileReadings['readings']> {
  const response = await page.request.get(`${world.desk}/api/messages/${id}/readings`);
  return ((await response.json()) as FileReadings).readings;
}

/** Until the desk knows that so many pages were read. */
async function visitsOf(page: Page, world: World, id: number, count: number): Promise<Visit[]> {
  await expect.poll(async () => (await readingsOf(page, world, id))[0]?.visits.length, { timeout: 15_000 }).toBe(count);
  return (await readingsOf(page, world, id))[0]!.visits;
}

const within = (visit: Visit, page: number, seconds: number) => {
  expect(visit.page).toBe(page);
  expect(Math.abs(visit.ms / 1000 - seconds)).toBeLessThanOrEqual(1);
};

test('pages that are read for known times give those times, and the desk says so while it happens', async ({
  world,
  page,
  browser,
}) => {
  const { id, subject, url } = await sendProposal(page, world);
  await page.goto(`${world.desk}/sent/${id}`);
  const reader = await newReader(browser);
  await openFile(reader, url);
  const began = Date.now();
  const notification = page
    .getByRole('status')
    .filter({ hasText: `is reading “${subject}.pdf”` })
    .last();
  await Promise.all([read(reader, 4), expect(notification).toBeVisible({ timeout: 3000 })]);
  await expect(page.getByText(/is on page 1 of 8 in/)).toBeVisible({ timeout: 3000 });
  await reader.getByLabel('Page, of 8').fill('3');
  await reader.keyboard.press('Enter');
  const turned = Date.now();
  await read(reader, 5);
  await expect(page.getByText(/is on page 3 of 8 in/)).toBeVisible({ timeout: 3000 });
  const end = Date.now();
  await reader.goto('about:blank');
  // Both pages are known before the last report comes, which the window sends when it is left.
  await expect(async () => {
    const [first, second] = await visitsOf(page, world, id, 2);
    within(first!, 1, (turned - began) / 1000);
    within(second!, 3, (end - turned) / 1000);
  }).toPass({ timeout: 15_000 });
  await expect(page.getByRole('list', { name: 'Links and files in the message' })).toContainText('viewed once');
});

test('a window that nobody sees counts nothing, and closing it loses nothing that was read', async ({
  world,
  page,
  browser,
}) => {
  const { id, url } = await sendProposal(page, world);
  const reader = await newReader(browser);
  await openFile(reader, url);
  const began = Date.now();
  const show = (state: string) =>
    reader.evaluate((value) => {
      Object.defineProperty(document, 'visibilityState', { value, configurable: true });
      document.dispatchEvent(new Event('visibilitychange'));
    }, state);
  await read(reader, 3);
  await show('hidden');
  const seen = (Date.now() - began) / 1000;
  await read(reader, 6);
  await show('visible');
  const back = Date.now();
  await read(reader, 2);
  const again = (Date.now() - back) / 1000;
  await reader.goto('about:blank');
  await expect
    .poll(async () => Math.abs((await readingsOf(page, world, id))[0]!.visits[0]!.ms / 1000 - seen - again))
    .toBeLessThanOrEqual(1);
});

test('a network that is away is made good for', async ({ world, page, browser }) => {
  const { id, url } = await sendProposal(page, world);
  const reader = await newReader(browser);
  const context = reader.context();
  await openFile(reader, url);
  const began = Date.now();
  await context.setOffline(true);
  await read(reader, 6);
  await context.setOffline(false);
  await read(reader, 2);
  const seconds = (Date.now() - began) / 1000;
  await reader.goto('about:blank');
  const [visit] = await visitsOf(page, world, id, 1);
  await expect
    .poll(async () => (await readingsOf(page, world, id))[0]!.visits[0]!.ms)
    .toBeGreaterThan((seconds - 1) * 1000);
  expect(visit!.page).toBe(1);
});

test('two readers of one link stay apart', async ({ world, page, browser }) => {
  const { id, url } = await sendProposal(page, world);
  for (const [place, userAgent] of [
    ['2', USER_AGENT],
    ['7', 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0'],
  ] as const) {
    const reader = await newReader(browser, { userAgent });
    await openFile(reader, url);
    await reader.getByLabel('Page, of 8').fill(place);
    await reader.keyboard.press('Enter');
    await read(reader, 2);
    await reader.goto('about:blank');
  }
  await expect
    .poll(async () => (await readingsOf(page, world, id)).map(({ visits }) => visits.map((visit) => visit.page).at(-1)))
    .toEqual([7, 2]);
});

test('on a phone, and without scripts', async ({ world, page, browser }) => {
  const { id, url } = await sendProposal(page, world);
  const reader = await newReader(browser, { viewport: { width: 390, height: 780 }, isMobile: true, hasTouch: true });
  await openFile(reader, url);
  expect(await reader.evaluate(() => document.documentElement.scrollWidth <= innerWidth)).toBe(true);
  await reader.getByLabel('Find in the document').fill('samples');
  await expect(reader.getByText('1 of 1')).toBeVisible();
  await expect(reader.locator('.textLayer .highlight')).toHaveText('samples');
  await expect.poll(async () => (await readingsOf(page, world, id))[0]!.visits.at(-1)?.page).toBe(8);

  const plain = await newReader(browser, { javaScriptEnabled: false });
  await plain.goto(url);
  const [download] = await Promise.all([
    plain.waitForEvent('download'),
    plain.getByRole('link', { name: 'Download' }).first().click(),
  ]);
  expect(download.suggestedFilename()).toMatch(/^Proposal, message \d+\.pdf$/);
});

test('what holds for a link is changed at once: no download, an end, off', async ({ world, page, browser }) => {
  const { id, url } = await sendProposal(page, world);
  await page.goto(`${world.desk}/sent/${id}`);
  const reader = await newReader(browser);
  await openFile(reader, url);
  await expect(reader.getByRole('link', { name: 'Download' })).toBeVisible();
  await expect(page.getByText(/^1 reading by /)).toBeVisible();
  await page.getByRole('button', { name: 'Change the link' }).click();
  await page.getByRole('switch', { name: 'Allow download' }).click();
  await expect(page.getByText('View only')).toBeVisible();
  await openFile(reader, url);
  await expect(reader.getByRole('link', { name: 'Download' })).toHaveCount(0);
  expect((await reader.request.get(`${url}/download`)).status()).toBe(403);
  await page.getByRole('switch', { name: 'Can be seen' }).click();
  await expect(page.getByRole('button', { name: 'The link is switched off' })).toBeVisible();
  await reader.goto(url);
  await expect(reader.getByText('This file is not shared any more')).toBeVisible();
  const guessed = await reader.goto(url.replace(/[\w-]{22}$/, 'A'.repeat(22)));
  expect(guessed!.status()).toBe(404);
});

test('a film counts while it plays', async ({ world, page, browser }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/write?to=viewer@quillworks.example&name=Viewer`);
  await page.getByLabel('Subject').fill('How they are put up');
  await page.getByRole('button', { name: 'Attach' }).click();
  await page.getByRole('button', { name: 'Putting up panels.webm' }).click();
  await expect(page.getByText(/^Saved/)).toBeVisible();
  await page.getByRole('button', { name: 'Send', exact: true }).click();
  const row = rowsWith(page, 'How they are put up');
  await expect(row).toContainText('No sign of reading yet');
  // A file that is opened within four seconds of sending would be a machine’s, until somebody acts.
  await page.waitForTimeout(4100);
  const reader = await newReader(browser);
  await reader.goto(world.fileLinks('viewer@quillworks.example')[0]!);
  await reader.locator('video').evaluate((video: HTMLVideoElement) => {
    video.muted = true;
    return video.play();
  });
  await reader.waitForTimeout(3000);
  await reader.locator('video').evaluate((video: HTMLVideoElement) => video.pause());
  await reader.waitForTimeout(3000);
  await reader.goto('about:blank');
  await row.getByRole('link').first().click();
  await expect(page.getByText(/viewed “.*” for [234] s/)).toBeVisible();
});
