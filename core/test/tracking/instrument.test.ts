import fc from 'fast-check';
import { parse, type DefaultTreeAdapterTypes as Tree } from 'parse5';
import {
  elementsOf,
  planInstrumenting,
  trackingOf,
  removeInstrumenting,
  instrument,
  type InstrumentPlan,
} from '@kiraku/core/tracking';
import { messageHtml } from './html.js';

const IMAGE = 'https://door.example/i/AAAAAAAAAAAAAAAAAAAAAA.gif';
const redirect = (position: number) => `https://door.example/l/${String(position).padStart(22, '0')}`;
const trackingUrlsFor = (plan: InstrumentPlan) => ({
  imageUrl: IMAGE,
  linkUrls: plan.links.map((link) => redirect(link.position)),
});

describe('planInstrumenting', () => {
  const urls = (html: string) => planInstrumenting(html).links.map((link) => link.url);

  test('lists web links only', () => {
    expect(
      urls(
        '<a href="mailto:a@b.example">m</a><a href="tel:1">t</a><a href="cid:x">c</a><a href="#y">h</a>' +
          '<a href="data:,x">d</a><a href="javascript:x()">j</a><a href="page.html">r</a><a href=" HTTPS://A.example ">w</a>',
      ),
    ).toEqual(['https://a.example/']);
  });

  test('decodes entities in the address but keeps their place in the source', () => {
    const html = '<a href="https://a.example/?x=1&amp;y=2">both</a>';
    const [link] = planInstrumenting(html).links;
    expect(link?.url).toBe('https://a.example/?x=1&y=2');
    expect(html.slice(link!.start, link!.end)).toBe('https://a.example/?x=1&amp;y=2');
  });

  test('resolves relative links against the first base', () => {
    expect(
      urls('<base target="x"><base href="https://b.example/dir/"><a href="s.html">s</a><a href="/t">t</a>'),
    ).toEqual(['https://b.example/dir/s.html', 'https://b.example/t']);
  });

  test('knows areas of image maps, and the same address twice as two links', () => {
    const html = '<a href="https://a.example/">one</a><map><area href="https://a.example/" alt="plan"></map>';
    expect(planInstrumenting(html).links).toMatchObject([
      { position: 0, text: 'one' },
      { position: 1, text: 'plan' },
    ]);
  });

  test('takes a mis-nested link, which the parser clones, for one', () => {
    expect(urls('<a href="https://a.example/"><p>one</a> two</p>')).toHaveLength(1);
  });

  test('names a link by its words, or by what describes its picture', () => {
    const text = (html: string) => planInstrumenting(html).links[0]?.text;
    expect(text('<a href="https://a.example/">  the <b>price</b>\n list </a>')).toBe('the price list');
    expect(text('<a href="https://a.example/"><img alt=" card "></a>')).toBe('card');
    expect(text('<a href="https://a.example/"><img></a>')).toBe('');
  });

  test('does not look into comments, scripts and templates', () => {
    expect(
      urls(
        '<!--[if mso]><a href="https://a.example/"></a><![endif]--><script><a href="https://b.example/"></script>' +
          '<template><a href="https://c.example/"></a></template>',
      ),
    ).toEqual([]);
  });
});

describe('instruments', () => {
  const instrumented = (html: string) => {
    const plan = planInstrumenting(html);
    return instrument(plan, trackingUrlsFor(plan));
  };
  const image = `<img src="${IMAGE}" width="1" height="1" alt="" border="0" style="display:block">`;

  test.each([
    ['a body tag', '<html><body bgcolor=red>\n<p>x', `<html><body bgcolor=red>${image}\n<p>x`],
    ['no body tag', '<title>t</title><p>x', `<title>t</title>${image}<p>x`],
    ['plain words', 'Dear Marit', `${image}Dear Marit`],
    ['an empty body', '<head></head><body>', `<head></head><body>${image}`],
  ])('puts the image first with %s', (_name, html, expected) => {
    expect(instrumented(html)).toBe(expected);
  });

  test.each(['', '<title>t</title>', '<!-- open', '<frameset><frame></frameset>'])(
    'leaves %j, which has no body, as it is',
    (html) => {
      expect(instrumented(html)).toBe(html);
    },
  );

  test.each([
    ['"', '<a href="https://a.example/">x</a>', `<a href="${redirect(0)}">x</a>`],
    ["'", "<a href='https://a.example/'>x</a>", `<a href='${redirect(0)}'>x</a>`],
    ['no quotes', '<a href=https://a.example/ id=1>x</a>', `<a href=${redirect(0)} id=1>x</a>`],
    ['blanks around =', '<a href = "https://a.example/">x</a>', `<a href = "${redirect(0)}">x</a>`],
  ])('keeps the quoting: %s', (_name, html, expected) => {
    expect(instrumented(html)).toBe(image + expected);
  });

  test('leaves out what it is not given', () => {
    const plan = planInstrumenting('<a href="https://a.example/">a</a> <a href="https://b.example/">b</a>');
    expect(instrument(plan, { imageUrl: null, linkUrls: [null, redirect(1)] })).toBe(
      `<a href="https://a.example/">a</a> <a href="${redirect(1)}">b</a>`,
    );
  });

  test('refuses addresses that would not fit an unquoted attribute', () => {
    const plan = planInstrumenting('<a href=https://a.example/>a</a>');
    expect(() => instrument(plan, { imageUrl: null, linkUrls: ['https://d.example/"onclick='] })).toThrow(RangeError);
    expect(() => instrument(plan, { imageUrl: 'https://d.example/ x', linkUrls: [] })).toThrow(RangeError);
  });

  test('removing the tracking gives the original back, whatever the message', () => {
    fc.assert(
      fc.property(messageHtml, (html) => {
        const plan = planInstrumenting(html);
        const trackingUrls = trackingUrlsFor(plan);
        expect(removeInstrumenting(instrument(plan, trackingUrls), trackingOf(plan, trackingUrls))).toBe(html);
      }),
      { numRuns: 1000 },
    );
  });

  test('a browser sees the same message, but for one image and the addresses', () => {
    fc.assert(
      fc.property(messageHtml, (html) => {
        const plan = planInstrumenting(html);
        const before = outline(html, (url) => url);
        const after = outline(
          instrument(plan, trackingUrlsFor(plan)),
          (url) => plan.links[linkNumber(url)]?.url ?? url,
        );
        expect(after.images).toBe(plan.imageOffset === null ? 0 : 1);
        expect(after.lines).toEqual(before.lines);
      }),
      { numRuns: 1000 },
    );
  });

  test('a quoted message is cleaned too', () => {
    const plan = planInstrumenting('<p>See <a href="https://a.example/?x=1&amp;y=2">this</a></p>');
    const trackingUrls = trackingUrlsFor(plan);
    const reply = `<p>Thanks!</p><blockquote>${instrument(plan, trackingUrls).replace('<p>', '<p class="q">')}</blockquote>`;
    expect(removeInstrumenting(reply, trackingOf(plan, trackingUrls))).toBe(
      '<p>Thanks!</p><blockquote><p class="q">See <a href="https://a.example/?x=1&amp;y=2">this</a></p></blockquote>',
    );
  });
});

function linkNumber(url: string): number {
  return url.startsWith('https://door.example/l/') ? Number(url.slice(-22)) : -1;
}

/** The parsed document line by line, with each link's target resolved, and our image taken out and counted. */
function outline(html: string, target: (url: string) => string): { lines: string[]; images: number } {
  const document = parse(html);
  const base = [...elementsOf(document)]
    .find((element) => element.tagName === 'base' && element.attrs.some((attr) => attr.name === 'href'))
    ?.attrs.find((attr) => attr.name === 'href')?.value;
  const lines: string[] = [];
  let images = 0;
  const walk = (node: Tree.Node, depth: number) => {
    if ('tagName' in node) {
      const attrs = node.attrs.map((attr) => {
        const link = attr.name === 'href' && (node.tagName === 'a' || node.tagName === 'area');
        return `${attr.name}=${link ? resolve(target(attr.value), base) : attr.value}`;
      });
      if (node.tagName === 'img' && attrs.includes(`src=${IMAGE}`)) {
        images += 1;
        return;
      }
      lines.push(`${depth} ${node.tagName} ${attrs.join(' ')}`);
    } else if ('value' in node) lines.push(`${depth} ${node.value}`);
    // Behind the end of the document, a comment follows what is put there: it shows nothing wherever it stands.
    else if ('data' in node) lines.push(`<!${node.data}`);
    if ('childNodes' in node) node.childNodes.forEach((child) => walk(child, depth + 1));
  };
  walk(document, 0);
  return { lines, images };
}

function resolve(url: string, base: string | undefined): string {
  try {
    return new URL(url.trim(), base).href;
  } catch {
    return url;
  }
}
