import { expect, type Locator, type Page } from '@playwright/test';
import { VIEWS } from '../../web/src/app/views.js';
import { signedIn, test } from '../world.js';

test.use({ file: import.meta.filename, serviceWorkers: 'allow' });

const rows = (page: Page) => page.locator('.sent-link');

test('with the keyboard alone: to a page, through its list, into a message, to a reply', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/today`);
  await expect(page.locator('.today-row').first()).toBeVisible();
  await page.keyboard.press('2');
  await expect(page).toHaveURL(/\/sent$/);
  await expect(rows(page).first()).toBeVisible();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowDown');
  await expect(rows(page).nth(1)).toBeFocused();
  const subject = await rows(page).nth(1).innerText();
  await page.keyboard.press('s');
  await expect(page.getByRole('checkbox', { name: `Select “${subject}”` }).first()).toBeChecked();
  await page.getByRole('button', { name: 'Clear selection' }).click();
  await rows(page).nth(1).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('article', { name: 'Message' }).getByRole('heading')).toHaveText(subject);
  await page.keyboard.press('d');
  await expect(page.getByText('is done until they do something new')).toBeVisible();
  await page.keyboard.press('r');
  await expect(page).toHaveURL(/\/write\/\d+$/);
  // Whoever types is not interrupted by what the letters would do elsewhere.
  await page.getByLabel('Subject').fill('');
  await page.keyboard.type('12 rolls? Dear friend, write');
  await expect(page.getByLabel('Subject')).toHaveValue('12 rolls? Dear friend, write');
  await expect(page).toHaveURL(/\/write\/\d+$/);
});

test('the keys are listed, and can be switched off for good', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/reports`);
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
  await page.keyboard.press('?');
  const list = page.getByRole('dialog', { name: 'Keys' });
  await expect(list).toContainText('Search everything');
  await list.getByRole('switch').click();
  await page.keyboard.press('Escape');
  await expect(list).toBeHidden();
  await page.reload();
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
  for (const key of ['1', 'w', 'f', '?']) await page.keyboard.press(key);
  await expect(page).toHaveURL(/\/reports/);
  await expect(page.getByRole('dialog')).toHaveCount(0);
});

test('one search leads to a person, a message, a file, a setting', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/today`);
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
  for (const [words, found, address] of [
    ['marit', /Marit Oakes.*Person/, /\/people\/\d+$/],
    ['reading room', /Panels for the reading room.*Message/, /\/sent\/\d+$/],
    ['quieter rooms', /Quieter rooms.pptx.*File/, /\/files\/\d+$/],
    ['quiet hours', /Notifications.*Setting/, /\/settings\/notifications$/],
  ] as const) {
    await page.keyboard.press('f');
    const field = page.getByRole('combobox', { name: 'Search everything' });
    await field.fill(words);
    const option = page.locator('.ant-select-item-option').filter({ hasText: found }).first();
    await expect(option).toBeVisible();
    // Down to it from the first, which is marked.
    while (!(await option.getAttribute('class'))!.includes('option-active')) await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    await expect(page).toHaveURL(address);
    await expect(field).toBeHidden();
  }
});

test('the daily choices are one press away, and Sent begins with the view that was chosen for it', async ({
  world,
  page,
}) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/sent`);
  const quick = page.getByRole('navigation', { name: 'Quick choices' });
  for (const name of ['No sign yet', 'Not replied', 'Replied', 'Needs attention']) {
    const choice = quick.getByRole('link', { name: new RegExp(`^${name} \\d+$`) });
    await choice.click();
    await expect(choice).toHaveAttribute('aria-current', 'true');
    const total = /\d+$/.exec((await choice.textContent())!)![0];
    await expect(page.locator('#list-sentence')).toContainText(new RegExp(`\\b${total} of \\d+ messages`));
  }
  await page.getByRole('button', { name: 'Saved views' }).click();
  await page.getByRole('menuitem', { name: 'Save this view …' }).click();
  await page.getByLabel('Name of the view').fill('To look at');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByRole('button', { name: 'To look at' }).click();
  await page.getByRole('menuitem', { name: 'Start Sent with “To look at”' }).click();
  await page.getByRole('link', { name: 'Today', exact: true }).click();
  const toSent = page.getByRole('link', { name: 'Sent', exact: true });
  // The choice is kept before the link leads to it.
  await expect(toSent).toHaveAttribute('href', /show=attention/);
  await toSent.click();
  await expect(page).toHaveURL(/show=attention/);
});

test('a recipient is edited, moved and dragged; a slip in a domain is pointed out', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/write`);
  const to = page.getByLabel('To', { exact: true });
  await to.pressSequentially('marit@lindqvist.example, otto@lindqvits.example,');
  const chips = page.locator('.write-chip');
  await expect(chips).toHaveText([/Marit Oakes Lindqvist Library Trust/, /otto@lindqvits\.example/]);
  await page.getByRole('textbox', { name: 'Message' }).fill('Dear both, here it is.');
  const advice = page.getByRole('region', { name: 'Before you send' });
  await expect(advice).toContainText('never written to otto@lindqvits.example, and know people at lindqvist.example');
  await advice.getByRole('button', { name: 'Send it to otto@lindqvist.example' }).click();
  await expect(chips.nth(1)).toContainText('otto@lindqvist.example');
  await expect(advice).toContainText('You have never written to otto@lindqvist.example, only to the rest.');

  const menuOf = (name: string) => page.locator('.write-chip-name', { hasText: name });
  await menuOf('otto@').press('Enter');
  await page.getByRole('menuitem', { name: 'Move to Cc' }).click();
  const fieldOf = (label: string) => page.locator(`div:has(> .write-recipients #recipients-${label})`);
  await expect(fieldOf('cc')).toContainText('otto@lindqvist.example');
  await page.locator('.write-chip', { hasText: 'otto@' }).dragTo(fieldOf('bcc'));
  await expect(fieldOf('bcc')).toContainText('otto@lindqvist.example');
  await menuOf('otto@').click();
  await page.getByRole('menuitem', { name: 'Edit' }).click();
  const edited = page.getByLabel('Edit otto@lindqvist.example');
  await expect(edited).toHaveValue('otto@lindqvist.example');
  await edited.fill('no address');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert')).toContainText('is not an email address');
  await edited.fill('Otto Brandt <otto.brandt@lindqvist.example>');
  await page.keyboard.press('Enter');
  await expect(fieldOf('bcc')).toContainText('Otto Brandt');
  await page.getByRole('button', { name: 'Remove Otto Brandt' }).click();
  await expect(chips).toHaveCount(1);
});

test('the address of a mail program’s link fills in a new message, also after signing in', async ({ world, page }) => {
  const link = encodeURIComponent('mailto:otto@x.example?cc=ada@x.example&subject=Felt%20%26%20reed&body=Dear%20Otto,');
  await page.goto(`${world.desk}/write?mailto=${link}`);
  await page.getByLabel('Passphrase').fill('felt and reed');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.locator('.write-chip')).toHaveText([/otto@x\.example/, /ada@x\.example/]);
  await expect(page.getByLabel('Subject')).toHaveValue('Felt & reed');
  await expect(page.getByRole('textbox', { name: 'Message' })).toContainText('Dear Otto,');
});

/** Shares files with Kiraku, as the system does for another program: it submits a form. */
async function share(page: Page, names: string[]): Promise<void> {
  await page.evaluate(async (shared) => {
    await navigator.serviceWorker.ready;
    const form = Object.assign(document.createElement('form'), {
      action: '/share',
      method: 'post',
      enctype: 'multipart/form-data',
    });
    const input = Object.assign(document.createElement('input'), { type: 'file', name: 'files', multiple: true });
    const transfer = new DataTransfer();
    for (const name of shared) transfer.items.add(new File(['Felt, 24 mm'], name, { type: 'text/plain' }));
    input.files = transfer.files;
    form.append(input);
    document.body.append(form);
    form.submit();
  }, names);
  await expect(page).toHaveURL(/\/write/);
}

test('a file that another program shares comes along with a new message', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/today`);
  await share(page, ['Left.txt', 'alone.txt']);
  // Any page could have sent it here: it is asked first.
  await expect(page.getByText('Shared by another app: “Left.txt”, “alone.txt”.')).toBeVisible();
  await page.goto(`${world.desk}/today`);
  await share(page, ['Felt & reed.txt']);
  await expect(page.getByText('Shared by another app: “Felt & reed.txt”.')).toBeVisible();
  await expect(page.getByRole('textbox', { name: 'Message' })).not.toContainText('Felt & reed');
  await page.getByRole('button', { name: 'Attach', exact: true }).last().click();
  await expect(page.getByRole('textbox', { name: 'Message' })).toContainText('Felt & reed');
  // It was taken: another message begins without it.
  await page.goto(`${world.desk}/write?shared=1`);
  await expect(page.getByRole('textbox', { name: 'Message' })).toBeVisible();
  await expect(page.getByText('Felt & reed')).toHaveCount(0);
});

test('what is shared and never taken is gone with the next', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/today`);
  // Kept, as if the page had closed before it could take them.
  await page.evaluate(async () => {
    const cache = await caches.open('kiraku.shared');
    for (const name of ['/share/0', '/share/1'])
      await cache.put(name, new Response('x', { headers: { 'x-name': 'old' } }));
  });
  await share(page, ['new.txt']);
  await expect(page.getByText('Shared by another app: “new.txt”.')).toBeVisible();
});

test('the five tasks of every day take no more presses than docs/usability.md says', async ({ world, page }) => {
  let presses = 0;
  const press = async (target: Locator) => {
    presses += 1;
    await target.click();
  };
  await signedIn(page, world);

  // Whom to call, and why.
  await page.goto(`${world.desk}/`);
  const first = page.locator('.today-row').first();
  await expect(first.locator('.today-who a')).toBeInViewport();
  await expect(first.locator('.today-why > :first-child')).toBeInViewport();
  expect(presses).toBe(0);
  await press(first.getByRole('button', { name: /^Why / }));
  await expect(page.getByText(/^\d+ points?$/)).toBeVisible();
  expect(presses).toBe(1);

  // A tracked message, once it is written.
  await page.goto(`${world.desk}/write`);
  await page.getByLabel('To', { exact: true }).fill('marit@lindqvist.example');
  await page.getByLabel('Subject').fill('Felt by hand');
  await page.getByRole('textbox', { name: 'Message' }).fill('Dear Marit, here it is.');
  presses = 0;
  await press(page.getByRole('button', { name: 'Send', exact: true }));
  await expect(rows(page).filter({ hasText: 'Felt by hand' })).toBeVisible();
  expect(presses).toBeLessThanOrEqual(4);

  // Last month’s unopened, from the list.
  presses = 0;
  await press(page.getByRole('button', { name: 'Saved views' }));
  await press(page.getByRole('menuitem', { name: 'Last month’s unopened' }));
  await expect(page.locator('#list-sentence')).toContainText('messages with no sign of reading sent last month');
  expect(presses).toBeLessThanOrEqual(2);

  // A reminder for Thursday if no reply has come.
  await page.goto(`${world.desk}/sent?words=felt%20by%20hand`);
  await rows(page).first().click();
  presses = 0;
  await press(page.getByRole('button', { name: 'Remind', exact: true }));
  await page.getByRole('combobox', { name: 'When' }).fill('Thursday');
  // Leaves the field: what it suggests may lie over the button.
  presses += 1;
  await page.keyboard.press('Tab');
  await press(page.getByRole('button', { name: 'Set reminder' }));
  await expect(page.getByText(/A reminder for Thu/)).toBeVisible();
  await expect(page.getByRole('region', { name: 'Follow-ups' })).toContainText('if there is no reply');
  expect(presses).toBeLessThanOrEqual(3);
});

test.describe('on a phone', () => {
  test.use({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true });

  test('the pages are within a thumb’s reach, and what is pressed is as large as one', async ({ world, page }) => {
    await signedIn(page, world);
    await page.goto(`${world.desk}/today`);
    await expect(page.locator('.today-row').first()).toBeVisible();
    const menu = page.getByRole('navigation', { name: 'Pages' });
    const box = (await menu.boundingBox())!;
    expect([box.x, box.width, box.y + box.height]).toEqual([0, 390, 844]);
    const small = await page
      .locator('nav a, nav button, .today-row button.ant-btn, .today-row a.ant-btn')
      .evaluateAll((controls) =>
        controls.map((control) => control.getBoundingClientRect()).filter(({ height }) => height < 44),
      );
    expect(small).toEqual([]);

    const lastHour = page.getByRole('region', { name: 'The last hour' });
    expect((await lastHour.boundingBox())!.height).toBeLessThan(50);
    await lastHour.getByRole('button').click();
    await expect(lastHour.getByRole('link').first()).toBeVisible();

    await menu.getByRole('link', { name: 'Sent' }).click();
    await rows(page).first().click();
    await expect(page.getByRole('region', { name: 'Actions' })).toBeVisible();
    await page.getByRole('button', { name: '‹ Back' }).click();
    await expect(page).toHaveURL(/\/sent(\?|$)/);
    const more = menu.getByRole('button', { name: 'More' });
    await more.click();
    await page.getByRole('menuitem', { name: 'Mute for 1 hour' }).click();
    await more.click();
    await page.getByRole('menuitem', { name: /^Muted until/ }).click();
    await more.click();
    await page.getByRole('menuitem', { name: 'Reports' }).click();
    await expect(page.getByRole('heading', { name: 'Reports' })).toBeVisible();
  });

  test('what is undone stands above the page, not over it', async ({ world, page }) => {
    await signedIn(page, world);
    await page.goto(`${world.desk}/today`);
    await page
      .getByRole('button', { name: /^Done: / })
      .last()
      .click();
    await expect(page.getByRole('button', { name: 'Undo' })).toBeInViewport();
    await page.evaluate(() => window.scrollTo(0, 0));
    const [notice, main] = await Promise.all([
      page.locator('#notifications').boundingBox(),
      page.locator('main').boundingBox(),
    ]);
    expect(notice!.y + notice!.height).toBeLessThanOrEqual(main!.y);
  });

  test('a server that cannot be reached is said so, and found again', async ({ world, page }) => {
    await signedIn(page, world);
    await page.goto(`${world.desk}/today`);
    await page.evaluate(() => navigator.serviceWorker.ready);
    await world.killServer();
    await page.goto(`${world.desk}/sent`);
    await expect(page.getByRole('heading', { name: 'Kiraku cannot be reached' })).toBeVisible();
    await world.startServer();
    await page.getByRole('link', { name: 'Try again' }).click();
    await expect(rows(page).first()).toBeVisible();
  });
});

test('the document names the files of the page that its address is of, and each of them is there', async ({
  world,
  request,
}) => {
  const named = new Set<string>();
  for (const { path, file } of VIEWS) {
    const address = path.replace(/:\w+\??/, '1');
    const html = await (await request.get(world.desk + address, { headers: { accept: 'text/html' } })).text();
    const files = [...html.matchAll(/<link [^>]*href="(\/assets\/[^"]+)"/g)].map(([, url]) => url!);
    expect(files.join(' '), address).toContain(`/${file.split('/').at(-1)}-`);
    files.forEach((one) => named.add(one));
  }
  for (const one of named) expect((await request.get(world.desk + one)).status(), one).toBe(200);
  const elsewhere = await request.get(`${world.desk}/nowhere`, { headers: { accept: 'text/html' } });
  expect(await elsewhere.text()).not.toContain('SentPage');
});

test('no main page jumps while it loads, and none has small or thin text', async ({ world, page }) => {
  await signedIn(page, world);
  await page.addInitScript(() => {
    const shifts: number[] = [];
    Object.assign(window, { shifts });
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries() as (PerformanceEntry & { value: number; hadRecentInput: boolean })[])
        if (!entry.hadRecentInput) shifts.push(entry.value);
    }).observe({ type: 'layout-shift', buffered: true });
  });
  const id = /\/sent\/(\d+)/.exec(await linkTo(page, `${world.desk}/sent?words=reading%20room`))![1];
  for (const path of ['today', 'sent', `sent/${id}`, 'followups', 'people', 'files', 'reports', 'write', 'settings']) {
    await page.goto(`${world.desk}/${path}`);
    await expect(page.getByRole('heading', { level: 1 }).first()).toBeAttached();
    await page.waitForLoadState('networkidle').catch(() => undefined);
    await page.waitForTimeout(800);
    const shift = await page.evaluate(() =>
      (window as unknown as { shifts: number[] }).shifts.reduce((sum, value) => sum + value, 0),
    );
    expect.soft(shift, `${path}: cumulative layout shift`).toBeLessThan(0.02);
    const thin = await page.evaluate(() =>
      [...document.querySelectorAll<HTMLElement>('main p, main li, main dd, main button, main label')]
        .filter((element) => element.checkVisibility() && Number(getComputedStyle(element).fontWeight) < 400)
        .map((element) => element.outerHTML.slice(0, 80)),
    );
    expect.soft(thin, `${path}: thin text`).toEqual([]);
    expect
      .soft(await page.evaluate(() => parseFloat(getComputedStyle(document.body).fontSize)))
      .toBeGreaterThanOrEqual(15);
  }
});

/** Where the first row of a list leads. */
async function linkTo(page: Page, list: string): Promise<string> {
  await page.goto(list);
  return (await rows(page).first().getAttribute('href'))!;
}

test('each section of the settings is saved by itself, undone, and each connection tested', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/settings`);
  const section = (name: string) => page.getByRole('region', { name });
  const account = section('Sender and outgoing mail');
  const name = account.getByLabel('Your name');
  const before = await name.inputValue();
  await name.fill('Ines V.');
  await account.getByRole('button', { name: 'Save' }).click();
  await expect(account.getByText('Saved. It applies from the next message on.')).toBeVisible();
  await account.getByRole('button', { name: 'Undo' }).click();
  await expect(account.getByText('Undone.')).toBeVisible();
  await expect(name).toHaveValue(before);
  await page.reload();
  await expect(name).toHaveValue(before);

  const programs = section('Other mail apps');
  await programs.getByRole('button', { name: 'Test' }).click();
  await expect(programs.getByText(/^It works: port \d+ responds, and the connection is encrypted\.$/)).toBeVisible();

  await page.getByLabel('Hours to retry').fill('24');
  await page.getByLabel('Hours to retry').press('Tab');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByLabel('Hours to retry')).toHaveValue('72');
});
