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
const MAIL_PROGRAMS = ['phone mail', 'android mail', 'linux mail', 'windows mail', 'notebook mail'];

/** Chances, from one seed. */
function chances(seed) {
  const source = randomLcg(seed);
  const between = (from, to) => Math.round(randomUniform.source(source)(from, to)());
  const whole = (from, to) => randomInt.source(source)(from, to + 1)();
  return {
    between,
    whole,
    /** A pause of a mean length, as waiting times are, and no shorter than some. */
    pause: (mean, least = 0) => Math.round(least + randomExponential.source(source)(1 / mean)()),
    oneOf: (list) => list[whole(0, list.length - 1)],
    happens: (share) => source() < share,
    home: () => `192.0.2.${whole(1, 250)}`,
    office: () => `198.51.100.${whole(1, 250)}`,
    /** Somewhere in a data centre. */
    hosted: () => ({ ip: `203.0.${whole(0, 113)}.${whole(1, 250)}`, hosted: true }),
  };
}

const open = (label, at, more) => ({ label, at, copy: 1, link: null, ...more });
const press = (label, at, link, more) => ({ label, at, copy: 1, link, ...more });

/** What somebody does with one copy from a time on: the image, perhaps a link, perhaps another look later. */
function reading(c, at, from, linkShare = 0.5) {
  const hits = [open('person', at, from)];
  let then = at;
  if (c.happens(linkShare)) hits.push(press('person', (then += c.pause(15 * SECOND, 3 * SECOND)), c.whole(1, 5), from));
  if (c.happens(0.3)) hits.push(open('person', then + c.pause(2 * HOUR, 2 * MINUTE), from));
  return hits;
}

/** Each writes one sequence. */
const BEHAVIOURS = {
  'people: by themselves': (c) =>
    reading(c, c.pause(6 * HOUR, 20 * SECOND), { ip: c.home(), agent: c.oneOf(BROWSERS) }),
  'people: in a mail program, and a browser for the link': (c) => {
    const ip = c.home();
    const at = c.pause(3 * HOUR, 20 * SECOND);
    const hits = [open('person', at, { ip, agent: c.oneOf(MAIL_PROGRAMS) })];
    return c.happens(0.6)
      ? [...hits, press('person', at + c.pause(20 * SECOND, 3 * SECOND), 1, { ip, agent: c.oneOf(BROWSERS) })]
      : hits;
  },
  'people: of one office, at the same moment': (c) => {
    const ip = c.office();
    const at = c.between(20 * SECOND, 2 * HOUR);
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
  'people: behind a proxy in a data centre': (c) => {
    const from = { ...c.hosted(), agent: c.oneOf(BROWSERS) };
    const at = c.happens(0.5) ? c.between(20 * SECOND, HOUR) : c.between(HOUR, 3 * DAY);
    return [open('person', at, from), press('person', at + c.pause(30 * SECOND, 3 * SECOND), c.whole(1, 5), from)];
  },
  'people: again, within moments': (c) => {
    const from = { ip: c.home(), agent: c.oneOf(BROWSERS) };
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
    const from = { ...(c.happens(0.7) ? c.hosted() : { ip: c.office() }), agent: c.oneOf(BROWSERS) };
    let at = c.between(300, 20 * SECOND);
    return Array.from({ length: c.whole(2, 6) }, (_, index) =>
      press('machine', (at += c.between(40, 400)), index + 1, from),
    );
  },
  'machines: slowly, the image and then every link': (c) => {
    const from = { ...c.hosted(), agent: c.oneOf(BROWSERS) };
    let at = c.between(2 * MINUTE, HOUR);
    const image = c.happens(0.7) ? [open('machine', at, from)] : [];
    return [
      ...image,
      ...Array.from({ length: c.whole(3, 6) }, (_, index) =>
        press('machine', (at += c.pause(22 * SECOND, 3 * SECOND)), index + 1, from),
      ),
    ];
  },
  'machines: the shadow of a person': (c) => {
    const person = { ip: c.home(), agent: c.oneOf(BROWSERS) };
    const at = c.between(MINUTE, 3 * DAY);
    const pressed = at + c.pause(12 * SECOND, 3 * SECOND);
    const link = c.whole(1, 4);
    const shadow = () =>
      press('machine', pressed + c.between(-2 * SECOND, 58 * SECOND), link, {
        ...c.hosted(),
        agent: c.oneOf(BROWSERS),
      });
    return [
      open('person', at, person),
      press('person', pressed, link, person),
      ...Array.from({ length: c.whole(1, 2) }, shadow),
    ];
  },
  'machines: a link from each of several networks': (c) => {
    const at = c.between(MINUTE, 5 * HOUR);
    return Array.from({ length: c.whole(3, 5) }, (_, index) =>
      press('machine', at + index * c.between(200, 1800), index + 1, { ...c.hosted(), agent: c.oneOf(BROWSERS) }),
    );
  },
  'machines: again on a later day': (c) => {
    const from = { ...c.hosted(), agent: c.oneOf(BROWSERS) };
    const first = c.between(2 * SECOND, 10 * MINUTE);
    const again = first + c.between(6 * HOUR, 3 * DAY);
    return [
      press('machine', first, 1, from),
      press('machine', first + c.between(200, 1500), 2, from),
      press('machine', again, c.whole(1, 3), from),
    ];
  },
  'machines: all copies at delivery': (c) => {
    const from = { ...c.hosted(), agent: c.oneOf(BROWSERS) };
    const at = c.between(2 * SECOND, 30 * SECOND);
    return Array.from({ length: c.whole(3, 6) }, (_, index) =>
      open('machine', at + index * c.between(50, 600), { ...from, copy: index + 1 }),
    );
  },
};

/** @returns sequences of each behaviour, named by it, in the form of the labelled set */
export function behaviours(seed, ofEach) {
  return Object.entries(BEHAVIOURS).flatMap(([name, write], index) =>
    Array.from({ length: ofEach }, (_, number) => ({
      name: `${name} (${number})`,
      class: name,
      hits: write(chances((seed + index / 100 + number / 10_000) % 1)),
    })),
  );
}
