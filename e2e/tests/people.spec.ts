import { writeFileSync } from 'node:fs';
import { expect } from '@playwright/test';
import { signedIn, test } from '../world.js';

const SHEET =
  'Full name;E-mail;Company\nDee New;dee@bring.example;Loud Hall\nDee New;dee@home.example;\nWrong;nowhere;\n';

test('people are brought in from a sheet, looked at first, made one, and all of it is taken back', async ({
  world,
  page,
}, info) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/people`);
  await expect(page.getByText(/^Everybody you wrote to/)).toBeVisible();
  await page.getByRole('button', { name: 'Bring people in' }).click();
  const file = info.outputPath('people.csv');
  writeFileSync(file, SHEET);
  await page.locator('input[type=file]').setInputFiles(file);
  await expect(page.getByText('It would be 2 new, 1 left out.')).toBeVisible();
  await expect(page.getByText('“nowhere” is not an e-mail address.')).toBeVisible();
  await page.getByRole('button', { name: 'Bring in 2 people' }).click();
  const brought = page.getByRole('status').filter({ hasText: 'Brought in: 2 new, 1 left out.' });
  await expect(brought).toBeVisible();
  await page.getByLabel('Search').fill('Dee New');
  await expect(page.getByRole('listitem').filter({ hasText: 'Dee New' })).toHaveCount(2);

  await page.getByLabel('Search').fill('');
  await page.getByRole('button', { name: 'Look at them' }).click();
  await page.getByRole('button', { name: 'Make them one' }).click();
  await expect(page.getByText('Dee New is one person now')).toBeVisible();
  await page.getByLabel('Search').fill('Dee New');
  await expect(page.getByRole('listitem').filter({ hasText: 'Dee New' })).toHaveCount(1);

  await expect(page).toHaveURL(/words=Dee/);
  await page.getByRole('link', { name: 'Dee New' }).click();
  await expect(page.getByRole('heading', { name: 'Dee New', level: 1 })).toBeVisible();
  await page.getByRole('button', { name: 'It is somebody else' }).click();
  await expect(page.getByText('Other addresses')).toBeHidden();
});

test('a person’s page says when they read, and leads to their letters and to a new one', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/people?words=Levi`);
  await page.getByRole('link', { name: 'Levi Strand' }).click();
  await expect(page.getByRole('img', { name: /From \d+ looks on \d+ days/ })).toBeVisible();
  await expect(page.getByText(/They read with/)).toBeVisible();
  await page.getByRole('button', { name: 'Write to them' }).click();
  await expect(page).toHaveURL(/\/write/);
  await expect(page.getByTitle('Levi Strand')).toBeVisible();
});

test('firms are told by their domain, and lead to who is there', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/people?as=firms`);
  await page
    .getByRole('listitem')
    .filter({ hasText: 'mirefield.example' })
    .getByRole('link', { name: /people$/ })
    .click();
  await expect(page).toHaveURL(/words=%40mirefield.example/);
  await expect(page.getByRole('listitem').filter({ hasText: 'Hana Iwase' })).toBeVisible();
});
