import { expect, type Page } from '@playwright/test';
import { DOCUMENTS } from '@kiraku/demo/documents';
import { rowsWith, signedIn, test } from '../world.js';

test.use({ file: import.meta.filename });

test('a new version is shown where links follow it, and both are known apart', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/files`);
  await page.getByRole('link', { name: 'Panels for the reading room.pdf', exact: true }).click();
  await expect(page.getByRole('list', { name: 'Pages and how long each was read' }).getByRole('listitem')).toHaveCount(
    8,
  );
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Add a new version' }).click(),
  ]);
  await chooser.setFiles({
    name: 'whatever.pdf',
    mimeType: 'application/pdf',
    buffer: await DOCUMENTS.firstProposal.bytes(),
  });
  await expect(page.getByText('Version 3', { exact: true }).first()).toBeVisible();
  await page.getByText('By reader').click();
  await expect(page.getByRole('img', { name: /Marit Oakes: \d+ min/ })).toBeVisible();
});

/** Files that come by the hand of somebody who drops or pastes them. */
async function give(page: Page, how: 'drop' | 'paste', files: { name: string; bytes: Buffer }[]): Promise<void> {
  await page.evaluate(
    ([event, given]) => {
      const transfer = new DataTransfer();
      for (const { name, text } of given)
        transfer.items.add(new File([Uint8Array.from(atob(text), (sign) => sign.charCodeAt(0))], name));
      const target = document.querySelector('.editor-message-editor')!;
      target.dispatchEvent(
        event === 'drop'
          ? new DragEvent('drop', { dataTransfer: transfer, bubbles: true, cancelable: true })
          : new ClipboardEvent('paste', { clipboardData: transfer, bubbles: true, cancelable: true }),
      );
    },
    [how, files.map(({ name, bytes }) => ({ name, text: bytes.toString('base64') }))] as const,
  );
}

test('dropped and pasted, several at once, taken off, and the ordinary way', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/write?to=plain@quillworks.example&name=Plain`);
  await page.getByLabel('Subject').fill('The ordinary way');
  await page.getByRole('textbox', { name: 'Message' }).click();
  await page.keyboard.type('by your leave:');
  const proposal = await DOCUMENTS.proposal.bytes();
  await give(page, 'drop', [
    { name: 'dropped one.pdf', bytes: proposal },
    { name: 'dropped two.txt', bytes: Buffer.from('some words') },
  ]);
  const files = page.getByRole('list', { name: 'Attached files' });
  await expect(files.getByRole('listitem')).toHaveCount(2);
  await expect(files).toContainText('8 pages');
  await give(page, 'paste', [{ name: 'pasted.pdf', bytes: await DOCUMENTS.firstProposal.bytes() }]);
  await expect(files.getByRole('listitem')).toHaveCount(3);
  const message = page.getByRole('textbox', { name: 'Message' });
  // Each as soon as it is there.
  const named = async () => (await message.locator('[data-file]').allTextContents()).sort();
  await expect.poll(named).toEqual(['dropped one', 'dropped two', 'pasted']);
  // What cannot be shown says so, and what will be known of it.
  await expect(page.getByRole('group', { name: 'dropped two.txt' })).toContainText('can only be downloaded');

  await files.getByRole('button', { name: 'Remove pasted.pdf' }).click();
  await expect.poll(named).toEqual(['dropped one', 'dropped two']);
  await page.getByRole('group', { name: 'dropped two.txt' }).getByText('Attachment, not tracked').click();
  await expect(message.locator('[data-file]')).toHaveText(['dropped one']);
  await expect(page.getByText(/^Saved/)).toBeVisible();
  await page.getByRole('button', { name: 'Send', exact: true }).click();
  await rowsWith(page, 'The ordinary way').getByRole('link').first().click();
  await expect(page.getByRole('region', { name: 'dropped one.pdf' })).toContainText('Not opened yet');
  await expect(page.getByRole('region', { name: 'dropped two.txt' })).toHaveCount(0);
  expect(world.fileLinks('plain@quillworks.example')).toHaveLength(1);
});

test('a file is renamed, deleted, and restored', async ({ world, page }) => {
  await signedIn(page, world);
  await page.goto(`${world.desk}/files`);
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Add files' }).click(),
  ]);
  await chooser.setFiles({
    name: 'a first name.pdf',
    mimeType: 'application/pdf',
    buffer: await DOCUMENTS.proposal.bytes(),
  });
  await page.getByRole('link', { name: 'a first name.pdf', exact: true }).click();
  await page.getByRole('button', { name: 'Edit' }).click();
  await page.getByRole('textbox').last().fill('a better name.pdf');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('a better name.pdf');
  await page.getByRole('button', { name: 'Delete' }).click();
  await expect(page).toHaveURL(/\/files$/);
  const row = page.getByRole('link', { name: 'a better name.pdf', exact: true });
  await expect(row).toHaveCount(0);
  await page.getByRole('button', { name: 'Restore' }).click();
  await expect(row).toBeVisible();
});
