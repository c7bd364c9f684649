import { readFileSync } from 'node:fs';
import { expect } from '@playwright/test';
import { signedIn, test } from '../world.js';

test.use({ file: import.meta.filename });

const OWN_ADDRESS = 'ines@tallowreed.example';

interface Exported {
  sent_at: string;
  replies: number;
}

/** What had two whole days to be read. */
function settledBefore(): number {
  const now = new Date();
  return new Date(now.getFullYear(), now.getMonth(), now.getDate() - 2).getTime();
}

test('a report says what the messages themselves say, and its numbers lead to them', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/today`);
  await page.getByRole('navigation').getByRole('link', { name: 'Reports' }).click();
  await page.getByRole('button', { name: /^When it was sent/ }).click();
  await page.getByRole('menuitem', { name: 'at any time' }).click();
  await expect(page).toHaveURL(/sent=$/);

  const lines = await (await page.request.get(`${world.desk}/api/export/messages.jsonl?archived=any`)).text();
  const reported = lines
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as Exported)
    .filter(({ sent_at }) => sent_at !== '' && Date.parse(sent_at) < settledBefore());
  const replied = reported.filter(({ replies }) => replies > 0).length;
  const results = page.getByRole('region', { name: 'Results' });
  const rate = results.getByText(new RegExp(`^${replied} of ${reported.length}, `));
  await expect(rate).toBeVisible();

  // Each bar says in words what it shows; together they show every message.
  const weeks = page.getByRole('list', { name: 'Weeks' }).getByRole('listitem');
  const words = await weeks.evaluateAll((bars) => bars.map((bar) => bar.getAttribute('aria-label') ?? ''));
  const messages = words.map((text) => Number(/: (\d+) message/.exec(text)?.[1]));
  expect(messages.reduce((sum, n) => sum + n, 0)).toBe(reported.length);

  const template = page.getByRole('listitem').filter({ hasText: 'First email' });
  await expect(template).toContainText(/Replied: \d+ of \d+/);
  await expect(template).toContainText(/the others/);

  await rate.getByRole('link').first().click();
  await expect(page.locator('#list-sentence')).toContainText(`messages with a reply sent up to`);
  await expect(page.locator('#list-sentence')).toContainText(`${replied} of `);
});

test('a report is narrowed and compared, and its charts are read as tables and exported', async ({ world, page }) => {
  await signedIn(page, world);
  // As it was called before.
  await page.goto(`${world.desk}/reports?period=month`);
  await expect(page.getByRole('button', { name: 'When it was sent: in the last 30 days' })).toBeVisible();
  await expect(page.getByText(/Compared with \d+ messages sent from/)).toBeVisible();

  const weeks = page.getByRole('region', { name: 'Week by week' }).first();
  await weeks.getByRole('button', { name: 'Show table' }).click();
  const sent = await weeks.getByRole('row').last().getByRole('link').first().innerText();
  const download = page.waitForEvent('download');
  await weeks.getByRole('button', { name: /^Export/ }).click();
  await page.getByRole('menuitem', { name: 'As CSV' }).click();
  const csv = readFileSync((await (await download).path())!, 'utf8');
  expect(csv.split('\n').at(-1)).toMatch(new RegExp(`^\\d{4}-\\d\\d-\\d\\d,${sent},`));
  await weeks.getByRole('row').last().getByRole('link').first().click();
  await expect(page.locator('#list-sentence')).toContainText(`${sent} of `);

  await page.goBack();
  await page.getByRole('button', { name: /^What else/ }).click();
  await page.getByLabel('Sent on working days').click();
  await expect(page).toHaveURL(/workingDays=true/);
  await expect(page.getByRole('button', { name: 'What else: sent on working days' })).toBeVisible();
});

test('the summary says what Today says, and comes by email when it is asked for', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/today`);
  await page.getByRole('link', { name: 'Summary', exact: true }).click();
  const contact = page.getByRole('region', { name: 'Contact next' });
  await expect(contact.getByRole('link', { name: /^Marit Oakes, / })).toBeVisible();
  await page.getByLabel('Tue', { exact: true }).click();
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('Saved.')).toBeVisible();
  await page.reload();
  await expect(page.getByLabel('Tue', { exact: true })).toBeChecked();

  const before = world.mails(OWN_ADDRESS).length;
  await page.getByRole('button', { name: 'Email it to me now' }).click();
  await expect(page.getByText('Summary emailed to you.')).toBeVisible();
  const mails = world.mails(OWN_ADDRESS);
  expect(mails).toHaveLength(before + 1);
  expect(mails[0]).toContain('Auto-Submitted: auto-generated');
});
