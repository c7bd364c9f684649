import { expect } from '@playwright/test';
import { signedIn, test } from '../world.js';

test.use({ file: import.meta.filename });

const TWO_DAYS = 2 * 24 * 60 * 60 * 1000;

interface Exported {
  sent_at: string;
  replies: number;
}

test('a report says what the messages themselves say, for the period that its sentence names', async ({
  world,
  page,
}) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/today`);
  await page.getByRole('navigation').getByRole('link', { name: 'Reports' }).click();
  await page.getByRole('button', { name: /^Period/ }).click();
  await page.getByRole('menuitem', { name: 'all time' }).click();
  await expect(page).toHaveURL(/period=all/);

  const lines = await (await page.request.get(`${world.desk}/api/export/messages.jsonl`)).text();
  const reported = lines
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as Exported)
    .filter(({ sent_at }) => sent_at !== '' && Date.parse(sent_at) <= Date.now() - TWO_DAYS);
  const replied = reported.filter(({ replies }) => replies > 0).length;
  const rates = page.getByRole('region', { name: 'Results' });
  await expect(rates.getByText(new RegExp(`^${replied} of ${reported.length}, `))).toBeVisible();

  // Each bar says in words what it shows; together they show every message.
  const weeks = page.getByRole('list', { name: 'Weeks' }).getByRole('listitem');
  const words = await weeks.evaluateAll((bars) => bars.map((bar) => bar.getAttribute('aria-label') ?? ''));
  const messages = words.map((text) => Number(/: (\d+) message/.exec(text)?.[1]));
  expect(messages.reduce((sum, n) => sum + n, 0)).toBe(reported.length);

  const template = page.getByRole('listitem').filter({ hasText: 'First email' });
  await expect(template).toContainText(/Replied: \d+ of \d+/);
  await expect(template).toContainText(/the others/);

  await page.goto(`${world.desk}/reports?period=month`);
  await expect(page.getByRole('button', { name: 'Period: the last month' })).toBeVisible();
});
