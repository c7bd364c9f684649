import { expect } from '@playwright/test';
import { signedIn, test } from '../world.js';

test('the list’s sentence narrows it, its address says so, and a view is kept under a name', async ({
  world,
  page,
}) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/sent`);
  const sentence = page.locator('.list-sentence');
  await expect(sentence).toContainText('none left out');
  await page.getByRole('button', { name: /^What is shown/ }).click();
  await page.getByRole('menuitem', { name: 'what was read and not answered' }).click();
  await expect(page).toHaveURL(/show=unanswered/);
  await expect(sentence).toContainText(/\d+ of \d+ messages\./);
  await page.getByRole('button', { name: /^Order/ }).click();
  await page.getByRole('menuitem', { name: 'most opened first', exact: true }).click();
  await expect(page).toHaveURL(/order=opens/);
  await expect(page.getByRole('main').getByRole('listitem').first()).toContainText('Opened');

  // What one fills in is loaded when it is opened.
  await page.getByRole('button', { name: /^What else/ }).click();
  await page.getByText('Only with a note of mine').click();
  await expect(page).toHaveURL(/noted=true/);
  await expect(page.getByRole('checkbox', { name: 'Only with a note of mine' })).toBeChecked();
  await page.getByText('Only with a note of mine').click();
  await expect(page).not.toHaveURL(/noted/);
  await page.keyboard.press('Escape');

  await page.getByRole('button', { name: 'My views' }).click();
  await page.getByRole('menuitem', { name: /^Keep this view/ }).click();
  await page.getByLabel('Name of the view').fill('Waiting for me');
  await page.getByRole('button', { name: 'Keep it' }).click();
  await expect(page.getByRole('button', { name: 'Waiting for me' })).toBeVisible();
  await page.getByRole('button', { name: 'Show everything' }).click();
  await expect(sentence).toContainText('none left out');
  await page.getByRole('button', { name: 'My views' }).click();
  await page.getByRole('menuitem', { name: 'Waiting for me' }).click();
  await expect(page).toHaveURL(/show=unanswered&order=opens/);
  await page.reload();
  await expect(page.getByRole('button', { name: 'What is shown: what was read and not answered' })).toBeVisible();
});

test('what is searched is found as it is typed, and shows where it stands', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/sent`);
  // As fast as the list follows: nothing that is typed is lost meanwhile.
  await page.getByLabel('Search').pressSequentially('vacuumed', { delay: 190 });
  await expect(page.getByLabel('Search')).toHaveValue('vacuumed');
  await expect(page).toHaveURL(/words=vacuumed&order=match/);
  await expect(page.getByRole('listitem').first().locator('mark')).toHaveText('vacuumed,');
  await page.getByLabel('Search').fill('nothing is called like this');
  await expect(page.getByRole('heading', { name: 'Nothing is like that' })).toBeVisible();
});

test('a letter that is not loaded comes to the top when it is opened, and how many there are stays right', async ({
  world,
  page,
  browser,
}) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/sent`);
  const sentence = page.locator('.list-sentence');
  await expect(sentence).toContainText('none left out');
  const before = await sentence.textContent();
  const response = await page.request.get(`${world.desk}/api/messages?order=latest&rising=true&show=unseen&limit=1`);
  const { messages } = (await response.json()) as {
    messages: { subject: string; recipients: { address: string }[] }[];
  };
  const { subject, recipients } = messages[0]!;
  const row = page.getByRole('listitem').filter({ hasText: subject });
  const recipient = await (await browser.newContext()).newPage();
  await recipient.goto(`${world.outside}/mailboxes/${encodeURIComponent(recipients[0]!.address)}?program=laptop`);
  await recipient.getByRole('link', { name: subject }).last().click();
  await expect(row.first()).toContainText('Opened once, just now');
  // The server's word on how many there are comes a moment after the row.
  await page.waitForTimeout(1000);
  expect(await sentence.textContent()).toBe(before);
});

test('several messages are put away, and brought back in one press', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/sent`);
  const first = page.getByRole('listitem').first();
  const subject = (await first.getByRole('link').textContent())!;
  const sentence = page.locator('.list-sentence');
  const count = Number(/(\d+) messages/.exec((await sentence.textContent())!)![1]);
  await page.getByRole('button', { name: 'Choose several' }).click();
  await first.getByRole('checkbox', { name: `Choose “${subject}”` }).check();
  await page.getByRole('button', { name: 'Put away' }).click();
  await expect(sentence).toContainText(`${count - 1} messages`);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(sentence).toContainText(`${count} messages`);
});

test('as a table, a press on a column’s head sorts it, and columns are chosen', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/sent`);
  await page.getByText('Table', { exact: true }).click();
  await page.getByRole('columnheader', { name: 'Clicks' }).getByRole('button').click();
  await expect(page).toHaveURL(/order=clicks.*as=table/);
  await page.getByRole('button', { name: 'Columns' }).click();
  await page.getByRole('checkbox', { name: 'Where it stands' }).check();
  await expect(page.getByRole('columnheader', { name: 'Where it stands' })).toBeVisible();
});

test('Today proposes who is reading, within a moment, and lets them be settled', async ({ world, page, browser }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/today`);
  await expect(page.getByRole('heading', { name: 'Get in touch' })).toBeVisible();
  const mine = page
    .getByRole('listitem')
    .filter({ hasText: 'Henrik Baar' })
    .filter({ has: page.getByRole('button') });
  await expect(mine).toHaveCount(0);
  const recipient = await (await browser.newContext()).newPage();
  await recipient.goto(
    `${world.outside}/mailboxes/henrik%40${await domainOf(page, world.desk, 'Henrik Baar')}?program=laptop`,
  );
  await recipient.getByRole('link').filter({ hasText: 'Samples are on their way' }).click();
  await expect(mine).toContainText('Busy with it this moment');
  await mine.getByRole('button', { name: 'Settled: Henrik Baar' }).click();
  await expect(mine).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(mine).toBeVisible();
  await mine.getByRole('button', { name: 'Write to Henrik Baar' }).click();
  await expect(page).toHaveURL(/\/write\/\d+/);
});

async function domainOf(page: import('@playwright/test').Page, desk: string, name: string): Promise<string> {
  const response = await page.request.get(`${desk}/api/people?words=${encodeURIComponent(name)}`);
  const [person] = (await response.json()) as { address: string }[];
  return person!.address.split('@')[1]!;
}

test('resting on a row tells the essentials, and the keyboard writes on and puts off', async ({ world, page }) => {
  await signedIn(page, world);
  // Found by its words: what other tests sent may have pushed it out of sight.
  await page.goto(`${world.desk}/sent?words=reading%20room`);
  const row = page.locator('a.sent-link', { hasText: 'Panels for the reading room' }).first();
  await row.hover();
  await expect(page.locator('.glance')).toContainText(/Marit Oakes: \d opens, 3 clicks/);
  await expect(page.locator('.glance')).toContainText('“the proposal” followed 2 times');
  // Beside the list, however far it is scrolled.
  await page.mouse.move(4, 400);
  await expect(page.locator('.glance')).toBeHidden();
  await row.focus();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowUp');
  await expect(page.locator('.glance')).toBeVisible();
  await page.keyboard.press('l');
  await expect(page.getByText('Marit Oakes is put off until tomorrow morning')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await row.focus();
  await page.keyboard.press('w');
  await expect(page).toHaveURL(/\/write\/\d+$/);
});

test('the chart narrows the history, by dragging and without, and the history by what happened', async ({
  world,
  page,
}) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/sent?words=reading%20room`);
  await page.locator('a.sent-link', { hasText: 'Panels for the reading room' }).first().click();
  const history = page.getByRole('region', { name: 'History' }).getByRole('listitem');
  await expect(page.locator('.chart svg')).toBeVisible();
  await expect(history.first()).toBeVisible();
  const all = await history.count();
  const box = (await page.locator('.chart-box svg').boundingBox())!;
  await page.mouse.move(box.x + box.width * 0.8, box.y + 20);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width - 2, box.y + 20, { steps: 4 });
  await page.mouse.up();
  await expect(page.getByText(/^Between .* and /)).toBeVisible();
  await expect.poll(() => history.count()).toBeLessThan(all);
  await expect(history.first()).toBeVisible();
  await page.getByRole('button', { name: 'History of all time' }).click();
  await expect(history).toHaveCount(all);
  await page.getByRole('button', { name: 'Closer' }).press('Enter');
  await page.getByRole('button', { name: 'History of this time only' }).press('Enter');
  await expect.poll(() => history.count()).toBeLessThan(all);
  await page.getByRole('button', { name: 'History of all time' }).press('Enter');
  await page.getByLabel('What is shown', { exact: true }).click();
  await page.getByTitle('clicks', { exact: true }).click();
  await expect(history).toHaveCount(3);
});

test('on a phone’s width nothing stands beside the page', async ({ world, page }) => {
  await page.setViewportSize({ width: 375, height: 740 });
  await signedIn(page, world);
  for (const path of ['/today', '/sent', '/sent/34', '/people', '/people/3', '/settings/notices']) {
    await page.goto(world.desk + path);
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
    await page.waitForTimeout(500);
    const over = await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
    expect([path, over]).toEqual([path, 0]);
  }
});

test('a letter’s page goes on paper without what is pressed', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/sent?words=reading%20room`);
  await page.locator('a.sent-link', { hasText: 'Panels for the reading room' }).first().click();
  await expect(page.getByRole('button', { name: 'Print, or save as PDF' })).toBeVisible();
  await expect(page.getByRole('region', { name: 'History' }).getByRole('listitem').first()).toBeVisible();
  await page.emulateMedia({ media: 'print' });
  for (const hidden of ['Write on in this conversation', 'Closer', 'Facts'])
    await expect(page.getByRole('button', { name: hidden }).first()).toBeHidden();
  await expect(page.getByRole('banner')).toBeHidden();
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
  await expect(page.frameLocator('.letter-body iframe').getByText('thank you for walking me through')).toBeVisible();
  const pdf = await page.pdf({ format: 'A4' });
  expect(pdf.subarray(0, 5).toString()).toBe('%PDF-');
  // All of it: the letter and its history.
  expect(pdf.length).toBeGreaterThan(20_000);
});

test('a letter and what was written on are one conversation, summed up', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/sent`);
  await page
    .getByRole('listitem')
    .filter({ hasText: 'Came back after' })
    .locator('a.sent-link', { hasText: 'Price for 40 m²' })
    .first()
    .click();
  await expect(page.getByText('The whole conversation')).toBeHidden();
  await page.getByRole('button', { name: 'Write on in this conversation' }).click();
  await page.getByRole('textbox', { name: 'Letter' }).click();
  await page.keyboard.type('One more thing.');
  await expect(page.getByText(/^Saved/)).toBeVisible();
  await page.getByRole('button', { name: 'Send', exact: true }).click();
  await page.locator('a.sent-link', { hasText: 'Re: Price for 40 m²' }).first().click();
  await page.getByText('The whole conversation').click();
  const letters = page.getByRole('region', { name: 'Conversation' }).getByRole('listitem');
  await expect(letters).toHaveCount(2);
  await expect(letters.first()).toContainText('Came back');
  // What happened to the first one stands in the history of both.
  await expect(page.getByRole('region', { name: 'History' }).getByRole('listitem').first()).toContainText(
    'Price for 40 m²',
  );
  await letters.first().getByRole('link').click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Came back');
});
