import { readFileSync } from 'node:fs';
import { expect, type Page } from '@playwright/test';
import { ROUND_LIMITS, type RoundView } from '@kiraku/core/contract';
import { roundPlanOf } from '@kiraku/core/rounds';
import { HOUR } from '@kiraku/core/time';
import { signedIn, test, type World } from '../world.js';

test.use({ file: import.meta.filename });

const READER = 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0';
const NAMES = [
  ...['Ada Quill', 'Bram Oost', 'Cyra Vale', 'Dario Fenn', 'Enid Marsh', 'Falk Rieger'],
  ...['Greta Olin', 'Hugo Tarn', 'Ivo Kessler', 'Jana Pöhl', 'Kaia Brandt', 'Lars Hove'],
];
const addressOf = (name: string) => `${name.split(' ')[0]!.toLowerCase()}@tworounds.example`;

async function beginFromSheet(page: Page, world: World, name: string, lines: string[]): Promise<void> {
  await page.goto(`${world.desk}/rounds`);
  await page.getByRole('button', { name: 'From a sheet' }).click();
  // As spreadsheets in many countries write it.
  const buffer = Buffer.from(lines.join('\r\n').replaceAll(',', ';'), 'latin1');
  await page.locator('input[type=file]').setInputFiles({ name: `${name}.csv`, mimeType: 'text/csv', buffer });
  await page.getByRole('button', { name: /^Add \d/ }).click();
  await expect(page).toHaveURL(/\/rounds\/\d+$/);
}

/** As many an hour as are possible, on every day and at every hour. */
async function asFastAsItCan(page: Page, world: World): Promise<void> {
  const address = `${world.desk}/api/rounds/${page.url().split('/').at(-1)}`;
  const round = (await (await page.request.get(address)).json()) as RoundView;
  const anyTime = { perHour: ROUND_LIMITS.maxPerHour, fromHour: 0, toHour: 24, weekdays: [0, 1, 2, 3, 4, 5, 6] };
  const data = { ...roundPlanOf(round), pace: { ...round.pace, ...anyTime }, revision: round.revision };
  expect((await page.request.put(address, { data })).ok()).toBe(true);
  await page.reload();
}

const saved = (page: Page) => expect(page.getByText('Saved', { exact: true })).toBeVisible();

test('a round of twelve in two wordings goes its way to its result', async ({ world, page }) => {
  test.setTimeout(300_000);
  await signedIn(page, world);
  await beginFromSheet(page, world, 'twelve', [
    'Name,Email,Seats',
    ...NAMES.map((name, index) => `${name},${addressOf(name)},${index === 3 ? '' : 20 + index}`),
    'Nobody,not an address,1',
  ]);
  await expect(page.getByRole('checkbox', { name: 'Jana Pöhl' })).toBeAttached();
  await page.getByRole('textbox', { name: 'Subject' }).fill('Quieter lunch hours');
  await page.getByRole('textbox', { name: 'Message' }).click();
  await page.keyboard.type('Dear ');
  await page.getByRole('button', { name: 'Insert placeholder' }).click();
  await page.getByRole('menuitem', { name: 'first name' }).click();
  await page.keyboard.type(', all ');
  await page.getByRole('button', { name: 'Insert placeholder' }).click();
  await page.getByRole('menuitem', { name: 'seats' }).click();
  await page.keyboard.type(' seats, see ');
  await page.getByRole('button', { name: 'Link', exact: true }).click();
  await page.getByLabel('Address', { exact: true }).fill('https://tallowreed.example/felt');
  await page.getByLabel('Link text').fill('the felt');
  await page.getByRole('button', { name: 'Add link' }).click();
  await page.getByRole('button', { name: 'Compare another wording' }).click();
  await page.getByRole('textbox', { name: 'Subject' }).fill('What your guests hear');
  await page.getByLabel('All at once').check();
  await saved(page);

  // Of one the seats are not known: said of them, and changed by hand.
  const people = page.getByRole('list', { name: 'People' });
  const fourth = people.getByRole('listitem').filter({ hasText: 'Dario Fenn' });
  await expect(fourth).toContainText('Nothing is known for {{seats}}');
  await page.getByRole('button', { name: 'Send 12 messages' }).click();
  await expect(page.getByText('A placeholder cannot be filled for Dario Fenn')).toBeVisible();
  await page.getByRole('button', { name: 'Look at each' }).click();
  const stepper = page.getByRole('dialog');
  await expect(stepper).toContainText('Ada Quill, 1 of 12');
  await expect(stepper.frameLocator('iframe').getByText('Dear Ada, all 20 seats')).toBeVisible();
  for (const [index, name] of NAMES.slice(1, 4).entries()) {
    await stepper.getByRole('button', { name: 'Next' }).click();
    await expect(stepper).toContainText(`${name}, ${index + 2} of 12`);
  }
  await stepper.getByRole('button', { name: 'Change by hand' }).click();
  await stepper.getByRole('textbox', { name: 'This message', exact: true }).click();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('Dear Dario, this is for you alone.');
  await stepper.getByRole('button', { name: 'Save this message' }).click();
  await expect(stepper.frameLocator('iframe').getByText('this is for you alone')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(fourth).toContainText('Changed by hand');

  await page.getByRole('button', { name: 'Send 12 messages' }).click();
  await expect(page.getByText('12 people, each with a message of their own · 12 sent · Finished')).toBeVisible({
    timeout: 60_000,
  });
  const url = page.url();
  const subjects = new Map(
    NAMES.map((name) => {
      const [mail] = world.mails(addressOf(name));
      expect(mail!.match(/^To: .*$/m)![0]).toContain(addressOf(name));
      return [name, mail!.match(/^Subject: (.*)\r$/m)![1]!];
    }),
  );
  const withB = NAMES.filter((name) => subjects.get(name) === 'What your guests hear');
  expect(withB).toHaveLength(6);

  // Some hours later, all with the second wording click, and two of them reply.
  await world.later(5 * HOUR);
  const hasLink = withB.filter((name) => name !== 'Dario Fenn');
  for (const name of hasLink) {
    const link = world.clickLinks(addressOf(name))[0]!;
    await page.request.get(link, { headers: { 'user-agent': READER }, maxRedirects: 0 });
  }
  const outside = await page.context().newPage();
  for (const name of hasLink.slice(0, 2)) {
    await outside.goto(`${world.outside}/mailboxes/${encodeURIComponent(addressOf(name))}`);
    await outside.getByRole('link', { name: 'What your guests hear' }).click();
    await outside.getByRole('button', { name: /^Reply/ }).click();
  }
  await signedIn(page, world);
  await page.goto(url);
  const clicked = page.getByRole('group', { name: 'Clicked' });
  await expect(clicked).toContainText(`${hasLink.length} of ${hasLink.length}`);
  const replies = page.getByRole('group', { name: 'Replied' });
  await expect(replies).toContainText('2 of 6');
  await expect(page.getByText(/^B may get more replies: \d\d % likely\. Not enough to say\./)).toBeVisible();

  // Each number leads to those whom it counts.
  await replies.getByRole('link', { name: '2', exact: true }).click();
  const members = page.getByRole('list', { name: 'People of the round' }).getByRole('listitem');
  await expect(members).toHaveCount(2);
  await expect(members.first()).toContainText('Replied');
  await page.getByRole('button', { name: /^Who is shown/ }).click();
  await page.getByRole('menuitem', { name: 'everyone' }).click();
  await page.getByRole('button', { name: /^Which wording/ }).click();
  await page.getByRole('menuitem', { name: 'any wording' }).click();
  await expect(members).toHaveCount(12);
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page
      .getByRole('button', { name: 'Export' })
      .click()
      .then(() => page.getByRole('menuitem', { name: 'Those shown' }).click()),
  ]);
  const lines = readFileSync(await download.path(), 'utf8')
    .trim()
    .split('\n');
  expect(lines).toHaveLength(13);
  expect(lines.filter((line) => /,B,.*,1$/.test(line))).toHaveLength(2);
});

test('a round is stopped in the middle, and goes on when it is resumed; who opted out gets no more', async ({
  world,
  page,
}) => {
  test.setTimeout(300_000);
  await signedIn(page, world);
  await page.goto(`${world.desk}/write`);
  const names = NAMES.slice(0, 5).map((name) => name.split(' ')[0]!);
  for (const name of names) {
    await page.getByLabel('To', { exact: true }).fill(`${name} <${name.toLowerCase()}@stopped.example>`);
    await page.keyboard.press('Enter');
  }
  await page.getByLabel('Subject').fill('One by one');
  await page.getByRole('textbox', { name: 'Message' }).click();
  await page.keyboard.type('Dear all,');
  await page.getByRole('button', { name: 'Send separately' }).click();
  await expect(page).toHaveURL(/\/rounds\/\d+$/);
  await expect(page.getByLabel('Name of the round')).toHaveValue('One by one');
  await asFastAsItCan(page, world);
  await page.getByRole('switch', { name: 'Offer to opt out' }).click();
  await saved(page);
  await page.getByRole('button', { name: 'Send 5 messages' }).click();
  const sent = () => names.filter((name) => world.hasMail(`${name.toLowerCase()}@stopped.example`));
  await expect.poll(() => sent().length, { timeout: 60_000 }).toBeGreaterThanOrEqual(2);
  await page.getByRole('button', { name: 'Stop', exact: true }).click();
  await expect(page.getByText(/ · Stopped/)).toBeVisible();
  const before = sent();
  await page.waitForTimeout(8000);
  expect(sent()).toEqual(before);
  expect(before.length).toBeLessThan(5);

  // By one press in their mail program (RFC 8058), somebody whose next message would come in the next round.
  const [first] = before;
  const header = world.mails(`${first!.toLowerCase()}@stopped.example`)[0]!.replace(/\r\n[ \t]+/g, ' ');
  const url = /^List-Unsubscribe: <([^>]+)>/m.exec(header)![1]!;
  const response = await page.request.post(url, { form: { 'List-Unsubscribe': 'One-Click' } });
  expect(response.ok()).toBe(true);
  // What waits can still be changed.
  await page.getByRole('button', { name: 'Change text or pace' }).click();
  await page.getByRole('textbox', { name: 'Subject' }).fill('One after the other');
  await saved(page);
  await page.getByRole('button', { name: 'Resume' }).click();
  await expect.poll(() => sent().length, { timeout: 90_000 }).toBe(5);
  await expect(page.getByText(/5 sent · Finished/)).toBeVisible();
  for (const name of names) {
    const subject = before.includes(name) ? 'One by one' : 'One after the other';
    expect(world.mails(`${name.toLowerCase()}@stopped.example`)[0]).toContain(`Subject: ${subject}\r\n`);
  }

  await beginFromSheet(page, world, 'again', [
    'Name,Email',
    ...names.map((name) => `${name},${name.toLowerCase()}@stopped.example`),
  ]);
  const people = page.getByRole('list', { name: 'People' }).getByRole('listitem');
  await expect(people.filter({ hasText: first! })).toContainText('Opted out: gets no message');
  await expect(people.filter({ hasText: names[4]! })).toContainText('Written to lately');
  await expect(page.getByRole('button', { name: 'Send 4 messages' })).toBeVisible();
  await page.getByRole('button', { name: 'Delete round' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Delete round' }).click();
  await expect(page.getByRole('heading', { name: 'Rounds' })).toBeVisible();
  await expect(page.getByRole('link', { name: 'One by one', exact: true }).first()).toBeVisible();
  await expect(page.getByRole('link', { name: 'again' })).toHaveCount(0);
});
