import { randomExponential, randomInt, randomLcg, randomUniform } from 'd3-random';

/*
 * People and machines as they behave, with random pauses, programs and networks: each behaviour writes sequences of hits with
 * what is true of each, in the form of the labelled set. The same seed writes the same.
 */

const SECOND = 1000;
const MINUTE = 60 * SECOND;
const HOUR = 60 * MINUTE;
const DAY = 24 * HOUR;

const BROWSERS = ['laptop', 'office', 'edge', 'notebook', 'phone', 'android', 'tablet'];
const MAIL_PROGRAMS = ['phone mail', 'android mail', 'linux mail', 'windows mail', 'notebook mail', 'short mail'];

/** Chances, from one source of numbers between 0 and 1. */
function chances(source) {
  const between = (from, to) => Math.round(randomUniform.source(source)(from, to)());
  const whole = (from, to) => randomInt.source(source)(from, to + 1)();
  const oneOf = (list) => list[whole(0, list.length - 1)];
  return {
    between,
    whole,
    oneOf,
    /** A pause of a mean length, as waiting times are, and no shorter than some. */
    pause: (mean, least = 0) => Math.round(least + randomExponential.source(source)(1 / mean)()),
    happens: (share) => source() < share,
    /** So many different numbers up to another, in any order. */
    some: (number, upTo) => {
      const all = Array.from({ length: upTo }, (_, index) => index + 1);
      return Array.from({ length: number }, () => all.splice(whole(0, all.length - 1), 1)[0]);
    },
    home: () => ({ ip: `192.0.2.${whole(1, 250)}`, agent: oneOf(BROWSERS) }),
    office: () => ({ ip: `198.51.100.${whole(1, 250)}`, agent: oneOf(BROWSERS) }),
    /** Somewhere in a data centre, with the name of a browser, often of an older one. */
    hosted: () => ({ ip: `203.0.${whole(0, 113)}.${whole(1, 250)}`, agent: oneOf(BROWSERS), hosted: true }),
  };
}

const open = (label, at, more) => ({ label, at, copy: 1, link: null, ...more });
const press = (label, at, link, more) => ({ label, at, copy: 1, link, ...more });
const anyAge = (c) => (c.happens(0.5) ? c.between(30 * SECOND, HOUR) : c.between(HOUR, 3 * DAY));

/** What somebody does with one copy from a time on: the image, perhaps a link, perhaps again later. */
function reading(c, at, from, linkShare = 0.5) {
  const hits = [open('person', at, from)];
  let then = at;
  if (c.happens(linkShare)) hits.push(press('person', (then += c.pause(15 * SECOND, 3 * SECOND)), c.whole(1, 5), from));
  if (c.happens(0.3)) hits.push(open('person', then + c.pause(2 * HOUR, 2 * MINUTE), from));
  return hits;
}

/** Every link of a copy, one after the other. */
const everyLink = (c, at, links, pause, from, copy = 1) =>
  Array.from({ length: links }, (_, index) => press('machine', (at += pause(c)), index + 1, { ...from, copy }));

/** Each writes one sequence: its hits, and how many links each copy has. */
const BEHAVIOURS = {
  'people: by themselves': (c) => reading(c, c.pause(6 * HOUR, 20 * SECOND), c.home()),
  'people: who wait for it': (c) => {
    const from = c.happens(0.6) ? c.home() : c.office();
    const at = c.between(4 * SECOND, 30 * SECOND);
    const hits = [open('person', at, from)];
    return c.happens(0.4) ? [...hits, press('person', at + c.pause(10 * SECOND, 3 * SECOND), 1, from)] : hits;
  },
  'people: in a mail program, and a browser for the link': (c) => {
    const from = c.home();
    const at = c.pause(3 * HOUR, 20 * SECOND);
    const hits = [open('person', at, { ...from, agent: c.oneOf(MAIL_PROGRAMS) })];
    return c.happens(0.6) ? [...hits, press('person', at + c.pause(20 * SECOND, 3 * SECOND), 1, from)] : hits;
  },
  'people: with images blocked': (c) => {
    const from = c.happens(0.7) ? c.home() : c.office();
    const at = c.pause(2 * HOUR, 25 * SECOND);
    const again = c.happens(0.4) ? [press('person', at + c.pause(40 * SECOND, 4 * SECOND), 2, from)] : [];
    return [press('person', at, 1, from), ...again];
  },
  'people: on the way, and then at the desk': (c) => {
    const at = c.pause(HOUR, 20 * SECOND);
    const [phone, desk] = [{ ...c.home(), agent: 'phone' }, c.office()];
    const later = at + c.pause(3 * HOUR, MINUTE);
    return [
      open('person', at, phone),
      open('person', later, desk),
      press('person', later + c.pause(15 * SECOND, 3 * SECOND), 1, desk),
    ];
  },
  'people: through a long message, link by link': (c) => {
    const from = c.happens(0.7) ? c.home() : c.office();
    let at = c.pause(2 * HOUR, MINUTE);
    const links = c.some(c.whole(2, 5), 6);
    return [
      open('person', at, from),
      ...links.map((link) => press('person', (at += c.pause(45 * SECOND, 4 * SECOND)), link, from)),
    ];
  },
  'people: behind a mail provider’s cache': (c) => {
    const cache = {
      ip: `203.0.${c.whole(0, 113)}.${c.whole(1, 250)}`,
      agent: c.oneOf(['cache', 'cache 2']),
      hosted: true,
    };
    const at = c.pause(2 * HOUR, 20 * SECOND);
    const hits = [open('person', at, cache)];
    return c.happens(0.5) ? [...hits, press('person', at + c.pause(20 * SECOND, 4 * SECOND), 1, c.home())] : hits;
  },
  'people: of one office, at the same moment': (c) => {
    const { ip } = c.office();
    const at = c.happens(0.3) ? c.between(12 * SECOND, 2 * MINUTE) : c.between(MINUTE, 2 * HOUR);
    const shared = c.happens(0.5) ? c.oneOf(BROWSERS) : null;
    return Array.from({ length: c.whole(2, 5) }, (_, index) => {
      const from = { ip, agent: shared ?? c.oneOf(BROWSERS), copy: index + 1 };
      const opens = at + index * c.between(600, 3000);
      const pressed = c.happens(0.4)
        ? [press('person', opens + c.pause(8 * SECOND, 3 * SECOND), c.whole(1, 3), from)]
        : [];
      return [open('person', opens, from), ...pressed];
    }).flat();
  },
  'people: of one office, which a filter of their own looks after': (c) => {
    const { ip } = c.office();
    const filter = { ip, agent: c.oneOf(BROWSERS) };
    const scan = everyLink(c, c.between(500, 8 * SECOND), c.whole(2, 5), () => c.between(40, 400), filter);
    return [...scan, ...reading(c, c.pause(2 * HOUR, MINUTE), { ip, agent: c.oneOf(BROWSERS) })];
  },
  'people: behind a proxy in a data centre': (c) => {
    const from = c.hosted();
    const at = anyAge(c);
    const pressed = at + c.pause(30 * SECOND, 3 * SECOND);
    const [first, second] = c.some(2, 5);
    const another = c.happens(0.2) ? [press('person', pressed + c.pause(30 * SECOND, 4 * SECOND), second, from)] : [];
    return [open('person', at, from), press('person', pressed, first, from), ...another];
  },
  'people: behind a proxy in a data centre, on several days': (c) => {
    const from = c.hosted();
    return Array.from({ length: c.whole(2, 4) }, (_, day) => {
      const at = c.between(MINUTE, 5 * HOUR);
      const more = { ...from, message: day + 1, sentAt: day * DAY };
      const pressed = press('person', day * DAY + at + c.pause(30 * SECOND, 3 * SECOND), c.whole(1, 5), more);
      // Once it is known that people read there, a link without the image is theirs.
      const isBlocked = day > 1 && c.happens(0.5);
      return isBlocked ? [pressed] : [open('person', day * DAY + at, more), pressed];
    }).flat();
  },
  'people: behind a proxy in a data centre, with images blocked, later': (c) => {
    const from = c.hosted();
    return [press('person', c.between(HOUR, 3 * DAY), c.whole(1, 3), from)];
  },
  'people: with a filter that follows their link': (c) => {
    const person = c.happens(0.7) ? c.home() : { ...c.hosted(), ip: '203.0.200.7' };
    const at = c.between(MINUTE, 3 * DAY);
    const pressed = at + c.pause(12 * SECOND, 3 * SECOND);
    const link = c.whole(1, 4);
    return [
      open('person', at, person),
      press('person', pressed, link, person),
      press('machine', pressed + c.between(-2 * SECOND, MINUTE), link, c.hosted()),
    ];
  },
  'people: in files, in which they scroll': (c) => {
    const from = c.happens(0.5) ? c.hosted() : c.office();
    const at = c.happens(0.5) ? c.between(2100, 20 * SECOND) : c.pause(HOUR, 3 * SECOND);
    return c.some(c.whole(1, 3), 4).map((file, index) => ({
      label: 'person',
      at: at + index * 600,
      copy: 1,
      link: null,
      file,
      active: true,
      ...from,
    }));
  },
  'people: again, within moments': (c) => {
    const from = c.home();
    const at = c.between(10 * MINUTE, 5 * HOUR);
    const pressed = at + c.pause(12 * SECOND, 3 * SECOND);
    return [
      open('person', at, from),
      ...(c.happens(0.5) ? [open('repeat', at + c.between(2 * SECOND, 50 * SECOND), from)] : []),
      press('person', pressed, 1, from),
      press('repeat', pressed + c.between(1 * SECOND, 28 * SECOND), 1, from),
    ];
  },
  'machines: at delivery, every link': (c) => {
    const from = c.happens(0.7) ? c.hosted() : c.office();
    return everyLink(c, c.between(300, 20 * SECOND), c.whole(2, 6), () => c.between(40, 400), from);
  },
  'machines: at delivery, the image, and a link or none': (c) => {
    const from = c.hosted();
    const at = c.between(2 * SECOND, 25 * SECOND);
    const image = open('machine', at, from);
    return c.happens(0.5) ? [image] : [image, press('machine', at + c.between(300, 4 * SECOND), 1, from)];
  },
  'machines: at delivery, some links of several copies': (c) => {
    const from = c.hosted();
    const at = c.between(500, 30 * SECOND);
    return Array.from({ length: c.whole(2, 4) }, (_, copy) =>
      c.some(c.whole(1, 3), 4).map((link, index) =>
        press('machine', at + copy * c.between(200, 1500) + index * c.between(60, 900), link, {
          ...from,
          copy: copy + 1,
        }),
      ),
    ).flat();
  },
  'machines: slowly, the image and then every link': (c) => {
    const from = c.hosted();
    const at = c.between(2 * MINUTE, HOUR);
    const image = c.happens(0.7) ? [open('machine', at, from)] : [];
    return [...image, ...everyLink(c, at, c.whole(3, 6), () => c.pause(22 * SECOND, 3 * SECOND), from)];
  },
  'machines: slowly, and with long pauses': (c) => {
    const from = c.hosted();
    const links = c.whole(2, 6);
    const at = c.between(MINUTE, HOUR);
    return everyLink(c, at, links, () => c.between(20 * SECOND, 100 * SECOND), from);
  },
  'machines: slowly, one link, and the page to opt out': (c) => {
    const from = c.hosted();
    const at = c.between(MINUTE, HOUR);
    const image = c.happens(0.7) ? [open('machine', at, from)] : [];
    return [...image, ...everyLink(c, at, 1, () => c.pause(22 * SECOND, 3 * SECOND), from)];
  },
  'machines: the shadow of a person': (c) => {
    const person = c.home();
    const at = c.between(MINUTE, 3 * DAY);
    const pressed = at + c.pause(12 * SECOND, 3 * SECOND);
    const link = c.whole(1, 4);
    const shadow = () => press('machine', pressed + c.between(-2 * SECOND, MINUTE), link, c.hosted());
    return [
      ...(c.happens(0.7) ? [open('person', at, person)] : []),
      press('person', pressed, link, person),
      ...Array.from({ length: c.whole(1, 2) }, shadow),
    ];
  },
  'machines: a link from each of several networks': (c) => {
    const at = c.between(MINUTE, 5 * HOUR);
    return Array.from({ length: c.whole(2, 5) }, (_, index) =>
      press('machine', at + index * c.between(200, 1800), index + 1, c.hosted()),
    );
  },
  'machines: again on a later day': (c) => {
    const from = c.hosted();
    const first = c.between(2 * SECOND, 10 * MINUTE);
    return [
      press('machine', first, 1, from),
      press('machine', first + c.between(200, 1500), 2, from),
      press('machine', first + c.between(6 * HOUR, 3 * DAY), c.whole(1, 3), from),
    ];
  },
  'machines: again on other messages': (c) => {
    const from = c.hosted();
    const first = everyLink(c, c.between(2 * SECOND, 10 * MINUTE), c.whole(2, 4), () => c.between(100, 2000), from);
    const later = Array.from({ length: c.whole(1, 3) }, (_, index) => {
      const sentAt = (index + 1) * DAY;
      const more = { ...from, message: index + 2, sentAt };
      const at = sentAt + c.between(20 * SECOND, 4 * HOUR);
      return c.happens(0.4) ? open('machine', at, more) : press('machine', at, c.whole(1, 3), more);
    });
    return [...first, ...later];
  },
  'machines: all copies at delivery': (c) => {
    const from = c.hosted();
    const at = c.between(2 * SECOND, 30 * SECOND);
    return Array.from({ length: c.whole(3, 6) }, (_, index) =>
      open('machine', at + index * c.between(50, 600), { ...from, copy: index + 1 }),
    );
  },
  'machines: a relay that loads in advance': (c) => [
    open('machine', c.between(2 * SECOND, 50 * MINUTE), {
      ...(c.happens(0.5) ? c.hosted() : c.office()),
      agent: 'relay',
    }),
  ],
  'machines: what names itself': (c) => {
    const agent = c.oneOf(['curl', 'python', 'go', 'java', 'bot', 'previewer', 'headless', 'url scan']);
    const from = { ...(c.happens(0.5) ? c.hosted() : c.office()), agent };
    return everyLink(c, c.between(3 * SECOND, DAY), c.whole(1, 2), () => c.between(SECOND, MINUTE), from);
  },
  'machines: what follows links, and names no browser': (c) => {
    const from = { ...(c.happens(0.3) ? c.hosted() : c.office()), agent: c.oneOf(['guard', 'relay', 'cache']) };
    const image = c.happens(0.3) ? [open('machine', c.between(20 * SECOND, MINUTE), { ...from, agent: 'curl' })] : [];
    return [...image, ...everyLink(c, c.between(MINUTE, DAY), c.whole(1, 2), () => c.between(SECOND, MINUTE), from)];
  },
  // What follows is not told from people by anything that can be seen: it makes likelihoods honest, and no more.
  'beyond us: one link much later, from a data centre that was not seen before': (c) => [
    press('machine', c.between(HOUR, 3 * DAY), c.whole(1, 3), c.hosted()),
  ],
  'beyond us: the image and one link, in a full browser': (c) => {
    const from = c.hosted();
    const at = c.between(40 * SECOND, 10 * MINUTE);
    return [open('machine', at, from), press('machine', at + c.between(2 * SECOND, 10 * SECOND), 1, from)];
  },
  'beyond us: a link at a time, over ordinary connections': (c) =>
    Array.from({ length: c.whole(2, 3) }, (_, index) =>
      press('machine', (index + 1) * c.between(MINUTE, 5 * MINUTE), index + 1, c.home()),
    ),
  'beyond us: a relay that waits for the night': (c) => [
    open('machine', c.between(HOUR, 12 * HOUR), { ...c.hosted(), agent: 'relay' }),
  ],
};

/** How many links a copy has: all that were followed, and often more; people who follow several leave some out. */
function linksOf(c, name, hits) {
  const followed = new Set(hits.map(({ link }) => link).filter((link) => link !== null));
  const isChoosing = name.startsWith('people') && followed.size > 1;
  return Math.max(1, ...followed) + (isChoosing || c.happens(0.5) ? c.whole(1, 4) : 0);
}

/** @returns sequences of each behaviour, named by it, in the form of the labelled set */
export function behaviours(seed, ofEach) {
  const c = chances(randomLcg(seed));
  return Object.entries(BEHAVIOURS).flatMap(([name, write]) =>
    Array.from({ length: ofEach }, (_, number) => {
      const hits = write(c);
      // Who follows each link in turn follows them all.
      const isWhole = /slowly/.test(name) && c.happens(0.8);
      const links = isWhole ? Math.max(...hits.map(({ link }) => link ?? 0)) : linksOf(c, name, hits);
      const scanner = /slowly/.test(name) ? hits[0].ip : null;
      const optOut = /opt out/.test(name) || c.happens(0.3) ? scanner : null;
      return { name: `${name} (${number})`, class: name, hits, links, optOut };
    }),
  );
}

/** How the names of those begin that nothing tells from people. */
export const BEYOND_US = 'beyond us';

const SET = { seed: 0.31, ofEach: 60 };

/** The set that weights are fitted to, and the one that they are checked with: every other sequence of each behaviour. */
export const HALVES = {
  fitting: behaviours(SET.seed, SET.ofEach).filter((_, index) => index % 2 === 0),
  checking: behaviours(SET.seed, SET.ofEach).filter((_, index) => index % 2 === 1),
};
