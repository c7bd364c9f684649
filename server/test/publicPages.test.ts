import { PUBLIC_LANGUAGES, publicSentences, viewerSentences, type PublicLanguage } from '@kiraku/core/publicPages';
import { SECOND } from '@kiraku/core/time';
import { AccountService } from '@kiraku/server/settings/account.service';
import { carried, fileLinks, pdf, upload } from './files/library.js';
import { ACCOUNT, desk, mail, to, trackingUrlsOf, useDesk, type ReceivedMail } from './harness.js';

const MARIT = 'marit@lindqvist.example';
const OTIS = 'otis@lindqvist.example';

useDesk('all');
beforeAll(() => desk.clock.stop());
beforeEach(() => {
  mail.received.length = 0;
});

async function sent(change = {}, address = MARIT): Promise<ReceivedMail> {
  const { id } = await desk.send({ recipients: [to(address)], ...change });
  await desk.sent(id);
  // Nobody reads within two seconds of sending.
  desk.clock.advance(10 * SECOND);
  return mail.to(address);
}

const optOutOf = (received: ReceivedMail) => trackingUrlsOf(received).image!.replace('/i/', '/o/').replace('.gif', '');
const inLanguage = (language: string, init: RequestInit = {}) => ({
  ...init,
  headers: { 'accept-language': language, ...init.headers },
});
const read = async (url: string, language = 'en', init = {}) =>
  (await desk.visit(url, inLanguage(language, init))).text();

const countsIn = (html: string) => [...html.matchAll(/<dd>(\d+)<\/dd>/g)].map(([, count]) => Number(count));

test('who would opt out is told who sees what, and what was recorded of them alone', async () => {
  const received = await sent();
  const { image, links } = trackingUrlsOf(received);
  await desk.visit(image!);
  await desk.visit(links[0]!);
  await desk.visit(links[0]!);
  await desk.visit(trackingUrlsOf(await sent({}, OTIS)).image!);
  // The same recipient, of another message.
  await desk.visit(trackingUrlsOf(await sent()).image!);
  const asked = await read(optOutOf(received));
  expect(asked).toContain(`<bdi>${ACCOUNT.name}</bdi> can see when you open their emails`);
  expect(countsIn(asked)).toEqual([2, 2, 0]);
  const over = await read(optOutOf(received), 'en', { method: 'POST' });
  expect(over).toContain('You have opted out');
  await desk.visit(image!);
  await read(optOutOf(received), 'en', { method: 'POST' });
  await read(`${optOutOf(received)}?again`, 'en', { method: 'POST' });
  expect(countsIn(await read(optOutOf(received)))).toEqual([2, 2, 0]);
});

test('what the sender is called is text, whatever it is', async () => {
  const name = '<img src=x> "Ines" & {sender} $& Co';
  desk.get(AccountService).save({ ...ACCOUNT, smtpPort: mail.port, name });
  const asked = await read(optOutOf(await sent()));
  expect(asked).not.toContain('<img');
  expect(asked.split('&lt;img src=x&gt;')).toHaveLength(3);
  expect(asked).toContain('&amp; {sender} $&amp; Co');
  desk.get(AccountService).save({ ...ACCOUNT, smtpPort: mail.port });
});

describe.each(PUBLIC_LANGUAGES)('who reads %s', (language: PublicLanguage) => {
  const sentences = publicSentences(language);

  test('is asked, thanked and asked back in it, on pages with one heading each that run nothing', async () => {
    const received = await sent({}, `reads-${language}@lindqvist.example`);
    const pages = [
      await read(optOutOf(received), `${language}-XX, en;q=0.5`),
      await read(optOutOf(received), language, { method: 'POST' }),
      await read(`${optOutOf(received)}?back`, language),
      await read(`${desk.config.publicUrl}/l/${'A'.repeat(22)}`, language),
      await read(`${desk.config.publicUrl}/f/${'A'.repeat(22)}`, language),
      await read(`${desk.config.publicUrl}/nothing`, language),
    ];
    const { optOutTitle, optedOutTitle, allowTitle, unknownLink, nothingHere } = sentences;
    const headings = [optOutTitle, optedOutTitle, allowTitle, unknownLink, unknownLink, nothingHere];
    for (const [index, html] of pages.entries()) {
      expect(html).toContain(`<html lang="${language}" dir="${sentences.dir}">`);
      expect([...html.matchAll(/<h1>(.*?)<\/h1>/g)].map(([, heading]) => heading)).toEqual([headings[index]]);
      expect(html).toContain(`<title>${headings[index]}</title>`);
      expect(html).not.toMatch(/<script|\son\w+=|\{sender\}/);
    }
  });

  test('is asked for their address in it', async () => {
    const file = await upload(desk, `Proposal ${language}.pdf`, await pdf(1));
    const [url] = fileLinks(await sent({ files: [carried(file.id, { asksAddress: true })] }));
    const asked = await read(url!, language);
    expect(asked).toContain(sentences.readFile);
    const wrong = await desk.visit(
      url!,
      inLanguage(language, { method: 'POST', body: new URLSearchParams({ address: 'nobody' }) }),
    );
    expect(wrong.status).toBe(422);
    expect(await wrong.text()).toContain(`role="alert">${sentences.noAddress}`);
  });
});

test('the page of a file speaks the reader’s language, and gives it what else it says', async () => {
  const file = await upload(desk, 'Proposal.pdf', await pdf(1));
  const [url] = fileLinks(await sent({ files: [carried(file.id)], disclose: true }));
  const html = await read(url!, 'ar, en;q=0.5');
  const { download, aboutTracking, find } = viewerSentences('ar');
  expect(html).toContain('<html lang="ar" dir="rtl">');
  expect(html).toContain(`من <bdi>${ACCOUNT.name}</bdi>`);
  for (const said of [download, aboutTracking, find]) expect(html).toContain(said);
  expect(html).not.toMatch(/__[A-Z]+__/);
});

test('pages for programs, and of no language that is spoken, are English', async () => {
  const refused = await desk.visit(`${desk.config.publicUrl}/l/${'A'.repeat(22)}`, inLanguage('de', { method: 'PUT' }));
  expect(refused.status).toBe(405);
  expect(await refused.text()).toContain('<html lang="en" dir="ltr">');
  const response = await desk.visit(`${desk.config.publicUrl}/nothing`, inLanguage('fi'));
  expect(response.headers.get('vary')).toBe('Accept-Language');
  expect(await response.text()).toContain('There is nothing at this address.');
});
