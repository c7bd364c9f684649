import { readFile } from 'node:fs/promises';
import { expect, type Page } from '@playwright/test';
import { BLANK_CONTENT } from '@kiraku/core/message';
import { signedIn, test, type World } from '../world.js';

test.use({ file: import.meta.filename });

/** Sends a message with three links, and waits until it has left long enough for people to read it. */
async function sent(page: Page, world: World, address: string, subject: string): Promise<void> {
  const html = [1, 2, 3].map((n) => `<p><a href="https://tallowreed.example/${n}">Link ${n}</a></p>`).join('');
  const headers = { origin: world.desk };
  const content = { ...BLANK_CONTENT, recipients: [{ kind: 'to', name: '', address }], subject, html };
  const draft = await page.request.post(`${world.desk}/api/drafts`, { data: content, headers });
  expect(draft.ok()).toBe(true);
  const { id, revision } = (await draft.json()) as { id: number; revision: number };
  await page.request.post(`${world.desk}/api/drafts/${id}/send`, { data: { revision }, headers });
  await page.goto(`${world.desk}/sent/${id}`);
  await expect(page.getByRole('heading', { level: 1 })).toContainText('No sign of reading yet');
}

/** Opens the newest mail of a mailbox in a program, as its recipient. */
async function opened(page: Page, world: World, address: string, subject: string, program: string) {
  const outside = await page.context().newPage();
  await outside.goto(`${world.outside}/mailboxes/${encodeURIComponent(address)}?program=${program}`);
  const link = outside.getByRole('link', { name: subject });
  await link.click();
  return outside;
}

const KINDS: [program: string, words: RegExp, line: RegExp][] = [
  ['cache', /^Opened once/, /a mail provider’s image cache/],
  ['relay', /^No sign of reading yet; 1 automatic request not counted/, /a mail provider loaded the image in advance/],
  ['sender', /^No sign of reading yet/, /your own browser or network/],
  ['scanner', /^No sign of reading yet/, /a security filter followed several links at once/],
];

for (const [program, words, line] of KINDS) {
  test(`read by ${program}, the message’s page says so in the right words`, async ({ world, page }) => {
    await signedIn(page, world);
    const [address, subject] = [`${program}@kinds.example`, `For ${program}`];
    await sent(page, world, address, subject);
    // Sooner after sending than this, nobody reads.
    await page.waitForTimeout(2500);
    await opened(page, world, address, subject, program);
    await expect(page.getByRole('region', { name: 'Activity' })).toContainText(line);
    await expect(page.getByRole('heading', { level: 1 })).toHaveText(words);
  });
}

test('text only, a followed link proves the reading', async ({ world, page }) => {
  await signedIn(page, world);
  await sent(page, world, 'text@kinds.example', 'For text');
  await page.waitForTimeout(4500);
  const outside = await opened(page, world, 'text@kinds.example', 'For text', 'text');
  await outside.frameLocator('iframe').getByRole('link', { name: 'Link 2' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Read, images blocked: clicked “Link 2”');
});

test('passed on to a friend, that is said as a likelihood', async ({ world, page }) => {
  await signedIn(page, world);
  await sent(page, world, 'friendly@kinds.example', 'For a friend');
  await page.waitForTimeout(2500);
  await opened(page, world, 'friendly@kinds.example', 'For a friend', 'laptop');
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Opened once');
  await opened(page, world, 'friendly@kinds.example', 'For a friend', 'friend');
  await expect(page.getByRole('region', { name: 'Recipients' })).toContainText('Perhaps passed on: 1 other computer');
});

test('a colleague’s open is not counted where that was chosen', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/settings/counting`);
  await page.getByLabel('is not counted').check();
  await page.getByRole('region', { name: 'What counts' }).getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('Saved. It applies to new activity.')).toBeVisible();
  await sent(page, world, 'paula@tallowreed.example', 'For a colleague');
  await page.waitForTimeout(2500);
  await opened(page, world, 'paula@tallowreed.example', 'For a colleague', 'laptop');
  await expect(page.getByRole('region', { name: 'Activity' })).toContainText('a colleague');
  await expect(page.getByRole('heading', { level: 1 })).toContainText('No sign of reading yet');
});

test('one person’s data are saved, and the person is erased', async ({ world, page }) => {
  await signedIn(page, world);
  await sent(page, world, 'ulla@erase.example', 'For nobody any more');
  await page.getByRole('link', { name: 'ulla@erase.example' }).click();
  const [saved] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Export as text' }).click(),
  ]);
  expect(await readFile(await saved.path(), 'utf8')).toContain('“For nobody any more”');
  await page.getByRole('switch', { name: 'Do not track this person' }).click();
  await expect(page.getByRole('switch', { name: 'Do not track this person' })).toBeChecked();
  await page.getByRole('button', { name: 'Erase everything' }).click();
  await page.getByRole('button', { name: 'Erase', exact: true }).click();
  await expect(page).toHaveURL(/\/sent$/);
  await expect(page.getByText('For nobody any more')).toBeHidden();
});

test('a verdict is opened, overruled, and left to the rules again', async ({ world, page }) => {
  await signedIn(page, world);
  await sent(page, world, 'relay@verdict.example', 'For a verdict');
  await page.waitForTimeout(2500);
  await opened(page, world, 'relay@verdict.example', 'For a verdict', 'relay');
  const line = page.getByRole('region', { name: 'Activity' }).getByRole('listitem').first();
  await line.getByRole('button', { name: 'Why?' }).click();
  await expect(page.getByText(/% likely a person/)).toBeVisible();
  await expect(page.getByText('Based on the header User-Agent', { exact: false })).toBeVisible();
  await page.getByRole('button', { name: 'Count this' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Opened once');
  await expect(page.getByText('Counted, because you said so.')).toBeVisible();
  await page.getByRole('button', { name: 'Use the rules' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('No sign of reading yet');
});

test('after a decision, similar past activity is decided on with it, and what was learnt is seen and forgotten', async ({
  world,
  page,
}) => {
  await signedIn(page, world);
  const address = 'twice@similar.example';
  for (const subject of ['For once', 'For again']) {
    await sent(page, world, address, subject);
    await page.waitForTimeout(2500);
    await opened(page, world, address, subject, 'tablet');
    await expect(page.getByRole('heading', { level: 1 })).toContainText('Opened once');
  }
  const line = page.getByRole('region', { name: 'Activity' }).getByRole('listitem').first();
  await line.getByRole('button', { name: 'Facts' }).click();
  await page.getByRole('button', { name: 'Don’t count this' }).click();
  await expect(page.getByText(/similar open.* still counts?\./)).toBeVisible();
  await page.getByRole('button', { name: 'Don’t count these either' }).click();
  await expect(page.getByText(/similar ones? (does|do) not count now\./)).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();

  await page.goto(`${world.desk}/settings/counting`);
  const network = page.getByRole('listitem').filter({ hasText: 'Behaves like a security filter' }).first();
  await network.getByRole('combobox', { name: /^What .* is$/ }).click();
  await page.getByTitle('People read here').click();
  await expect(network).toContainText('People read here');
  const before = await page.getByRole('button', { name: /^Forget / }).count();
  await network.getByRole('button', { name: /^Forget / }).click();
  await expect(page.getByRole('button', { name: /^Forget / })).toHaveCount(before - 1);
});

test('networks of one’s own are named, wrong ones explained, and all is judged anew', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/settings`);
  await page.getByRole('link', { name: 'What counts' }).click();
  const networks = page.getByLabel('My networks');
  await networks.fill('192.0.2');
  await networks.press('Enter');
  await page.getByRole('region', { name: 'What counts' }).getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('“192.0.2” is neither an address nor a network.')).toBeVisible();
  // By the pointer: a key pressed within a moment of the last one leaves the field's entries as they are.
  await page.getByTitle('192.0.2', { exact: true }).locator('[class$=-item-remove]').click();
  await page.getByRole('button', { name: /^Add this network/ }).click();
  await page.getByLabel('is not counted').check();
  await page.getByRole('region', { name: 'What counts' }).getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('Saved. It applies to new activity.')).toBeVisible();
  await page.reload();
  await expect(page.getByLabel('is not counted')).toBeChecked();
  await expect(page.getByRole('button', { name: /^Add this network/ })).toBeDisabled();
  await page.getByRole('button', { name: 'Apply the rules to past activity' }).click();
  await expect(page.getByText('Done.')).toBeVisible();
});
