import { writeFileSync } from 'node:fs';
import { expect } from '@playwright/test';
import { rowsWith, signedIn, test } from '../world.js';

test.use({ file: import.meta.filename });

const SHEET =
  'Full name;E-mail;Company\nDee New;dee@import.example;Loud Hall\nDee New;dee@home.example;\nWrong;nowhere;\n';

test('people are imported from a sheet, previewed first, merged, and all of it is undone', async ({
  world,
  page,
}, info) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/people`);
  await expect(page.getByText(/^\d+ people\.$/)).toBeVisible();
  await page.getByRole('button', { name: 'Import people' }).click();
  const file = info.outputPath('people.csv');
  writeFileSync(file, SHEET);
  await page.locator('input[type=file]').setInputFiles(file);
  await expect(page.getByText('To import: 2 new, 1 skipped.')).toBeVisible();
  await expect(page.getByText('“nowhere” is not an email address.')).toBeVisible();
  await page.getByRole('button', { name: 'Import 2 people' }).click();
  const imported = page.getByRole('status').filter({ hasText: 'Imported: 2 new, 1 skipped.' });
  await expect(imported).toBeVisible();
  await page.getByLabel('Search').fill('Dee New');
  await expect(rowsWith(page, 'Dee New')).toHaveCount(2);

  await page.getByLabel('Search').fill('');
  await page.getByRole('button', { name: 'Show them' }).click();
  await page.getByRole('button', { name: 'Merge' }).click();
  await expect(page.getByText('Dee New merged')).toBeVisible();
  await page.getByLabel('Search').fill('Dee New');
  await expect(rowsWith(page, 'Dee New')).toHaveCount(1);

  await expect(page).toHaveURL(/words=Dee/);
  await page.getByRole('link', { name: 'Dee New' }).click();
  await expect(page.getByRole('heading', { name: 'Dee New', level: 1 })).toBeVisible();
  await page.getByRole('button', { name: 'Separate' }).click();
  await expect(page.getByText('Other addresses')).toBeHidden();
});

test('people are narrowed by a sentence, edited in place with the keyboard, and that is undone', async ({
  world,
  page,
}) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/people`);
  const row = (name: string) => rowsWith(page, name);
  await expect(row('Hana Iwase')).toContainText('Last contact');
  // What was typed in a row is still there when the row has been out of sight.
  await page.getByRole('button', { name: 'Edit Astrid Vane' }).click();
  await page.getByRole('textbox', { name: 'Company' }).fill('Kettle');
  await page.mouse.move(640, 500);
  await page.mouse.wheel(0, 100_000);
  await expect(row('Yuki Tamm')).toBeInViewport();
  await expect(page.getByRole('textbox', { name: 'Company' })).toHaveValue('Kettle');
  await page.getByRole('button', { name: 'Cancel' }).click();

  await page.getByRole('button', { name: 'Edit Hana Iwase' }).press('Enter');
  await expect(page.getByRole('textbox', { name: 'Name' })).toBeFocused();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('button', { name: 'Edit Hana Iwase' })).toBeFocused();
  await page.keyboard.press('Enter');
  await page.getByRole('textbox', { name: 'Company' }).fill('Mirefield Day Clinic');
  // Escape closes the list of tags before it leaves the row.
  await page.getByRole('combobox', { name: 'Tags' }).press('ArrowDown');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('textbox', { name: 'Company' })).toHaveValue('Mirefield Day Clinic');
  await page.getByRole('combobox', { name: 'Tags' }).pressSequentially('to call,');
  await page.getByRole('button', { name: 'Save' }).press('Enter');
  await expect(row('Hana Iwase')).toContainText('Mirefield Day Clinic');
  await expect(row('Hana Iwase')).toContainText('to call');

  await page.getByRole('button', { name: /^Tag: / }).click();
  await page.getByRole('menuitem', { name: 'to call (1)' }).click();
  await expect(page).toHaveURL(/tag=to\+call/);
  await expect(page.getByText(/^1 person\.$/)).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('Nobody found')).toBeVisible();
  await page.getByRole('button', { name: 'Clear filters' }).click();
  await expect(row('Hana Iwase')).not.toContainText('Day Clinic');

  await page.getByRole('button', { name: /^Sorted by: / }).click();
  await page.getByRole('menuitem', { name: 'last contact, longest ago first' }).click();
  await expect(page.locator('li[aria-posinset="1"]')).toContainText(/Last contact on/);
  const found = async () => parseInt(await page.getByText(/^\d+ people\.$/).innerText());
  const everybody = await found();
  // Not “today”: half an hour after midnight, nobody has been in contact today.
  await page.getByRole('button', { name: /^Last contact: / }).click();
  await page.getByRole('menuitem', { name: 'in the last 7 days' }).click();
  await expect.poll(found).toBeLessThan(everybody);
  await expect(page.locator('li[aria-posinset="1"]')).toContainText(/Last contact/);
});

test('a person’s page says when they read, and leads to their messages and to a new one', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/people?words=Levi`);
  await page.getByRole('link', { name: 'Levi Strand' }).click();
  await expect(page.getByRole('img', { name: /Based on \d+ opens and clicks on \d+ days?/ })).toBeVisible();
  await expect(page.getByText(/^Devices: /)).toBeVisible();
  await page.getByRole('button', { name: 'Write a message' }).click();
  await expect(page).toHaveURL(/\/write/);
  await expect(page.locator('.write-chip')).toContainText('Levi Strand');
});

test('companies are known by their domain, and lead to who is there', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/people?as=companies`);
  await rowsWith(page, 'mirefield.example')
    .getByRole('link', { name: /people$/ })
    .click();
  await expect(page).toHaveURL(/words=%40mirefield.example/);
  await expect(rowsWith(page, 'Hana Iwase')).toBeVisible();
});
