import { byLastActivity, disclosureOf, goingOn, OPT_OUT_PLACE, replyCopyId, replySubject } from '@kiraku/core/message';

test.each([
  ['Panels', 'Re: Panels'],
  ['Re: Panels', 'Re: Panels'],
  ['RE: Panels', 'RE: Panels'],
  ['Reeds', 'Re: Reeds'],
  ['About re: Panels', 'Re: About re: Panels'],
  ['', 'Re: '],
])('what goes on with “%s” is “%s”', (subject, expected) => {
  expect(replySubject(subject)).toBe(expected);
});

test('of a subject, or a conversation, that is very long, as much is kept as is possible', () => {
  expect(replySubject('x'.repeat(900))).toHaveLength(900);
  expect(replySubject('x'.repeat(900))).toMatch(/^Re: x+$/);
  const ids = Array.from({ length: 50 }, (_, n) => `<${n}@x.example>`);
  expect(goingOn(ids, ['<new@x.example>'])).toEqual([...ids.slice(1), '<new@x.example>']);
  expect(goingOn(['<a@x.example>'], ['<b@x.example>', '<c@x.example>'])).toEqual([
    '<a@x.example>',
    '<b@x.example>',
    '<c@x.example>',
  ]);
});

describe('the line that discloses the tracking', () => {
  test('leads from its words in brackets to the page to decline', () => {
    const { html, text } = disclosureOf('I see when you open it. [Opt out] Thanks');
    expect(text).toBe(`I see when you open it. Opt out Thanks <${OPT_OUT_PLACE}>`);
    expect(html).toMatch(
      /^<p style="[^"]+">I see when you open it\. <a href="https:\/\/opt-out\.invalid\/">Opt out<\/a> Thanks<\/p>$/,
    );
  });

  test('is never without a way out, and of several brackets the last counts', () => {
    expect(disclosureOf('I see it').html).toContain('I see it <a href="https://opt-out.invalid/">Opt out</a></p>');
    expect(disclosureOf('[sic] I see it [here]').html).toContain('>&#91;sic&#93; I see it <a href');
    expect(disclosureOf('nothing []').text).toBe(`nothing [] Opt out <${OPT_OUT_PLACE}>`);
  });

  test('is ASCII that no message can be broken by', () => {
    const { html } = disclosureOf('Über <b>&"気楽" 🙂 [Nein?]');
    expect(html).toMatch(/^[\x20-\x7e]+$/);
    expect(html).toContain('&#220;ber &#60;b&#62;&#38;&#34;&#27671;&#27005;&#34; &#128578; ');
  });
});

const copy = (id: number, lastEventAt: number | null) => ({ id, tally: { lastEventAt } });

test('a reply goes to whoever of several did something last, and to the only one by no choice', () => {
  expect(replyCopyId([copy(1, null)])).toBeNull();
  expect(replyCopyId([])).toBeNull();
  expect(replyCopyId([copy(1, 5), copy(2, 9), copy(3, null)])).toBe(2);
  expect(replyCopyId([copy(1, null), copy(2, null)])).toBe(1);
});

test('who did nothing stays as addressed, after who did something', () => {
  const copies = [copy(1, null), copy(2, 5), copy(3, null), copy(4, 9)];
  expect(byLastActivity(copies).map(({ id }) => id)).toEqual([4, 2, 1, 3]);
  expect(copies.map(({ id }) => id)).toEqual([1, 2, 3, 4]);
});
