import { readFileSync } from 'node:fs';
import {
  countsAt,
  describeAgent,
  evidenceOn,
  judge,
  learnt,
  networkOf,
  REACH_MS,
  readNetwork,
  seenAs,
  UNKNOWN_NETWORK,
} from '@kiraku/core/tracking';

/*
 * A set of hits with what is true of each: a person's look, the same look again, or a machine (which here means anything
 * that is not a recipient's look). The tests hold the judging to it, and the benchmark tells how well it does, so both
 * read it here.
 */

/** A person taken for a machine is a missed call; a machine taken for a person is a call too many. */
const COST = { personNotCounted: 5, otherCounted: 1 };

const { agents, sequences: LABELLED } = JSON.parse(readFileSync(new URL('./labelled.json', import.meta.url), 'utf8'));

const DAY = 24 * 60 * 60 * 1000;

/** The hits of a sequence, of all its messages; times are since the first was sent. */
function hitsOf(sequence) {
  return sequence.hits.map(
    ({ at, copy, link, file, active, ip, agent, method, purpose, ownDevice, dnt, hosted }, id) => ({
      id,
      at,
      kind: file ? 'file_viewed' : link === null ? 'opened' : 'clicked',
      copyId: copy,
      linkId: link,
      sentFileId: file ?? null,
      ip,
      network: networkOf(ip, hosted ?? false),
      userAgent: agents[agent],
      agent: describeAgent(agents[agent]),
      method: method ?? 'GET',
      purpose: purpose ?? '',
      ownDevice: ownDevice ?? false,
      dnt: dnt ?? false,
      hosted: hosted ?? false,
      active: active ?? false,
    }),
  );
}

function situationOf({
  hits,
  links = null,
  optOut = null,
  own = [],
  colleagues = 'count',
  colleague = [],
  respect = false,
  days = null,
}) {
  const sent = hits.map(({ copy, sentAt = 0 }) => [copy, { sentAt, colleague: colleague.includes(copy) }]);
  return {
    copies: new Map(sent),
    links,
    networkFrom: () => UNKNOWN_NETWORK,
    optOutAsked: ({ network }) => optOut !== null && networkOf(optOut, true) === network,
    ownNetworks: own.map((text) => readNetwork(text)),
    colleagues,
    respectDnt: respect,
    trackForMs: days && days * DAY,
    notifyForMs: null,
  };
}

/** Judges the hits of one sequence as they are judged where they come in: by message, with what was learnt elsewhere before. */
function judgeSequence(sequence) {
  const hits = hitsOf(sequence);
  const messageOf = (index) => sequence.hits[index].message ?? 1;
  const messages = new Set(sequence.hits.map((_, index) => messageOf(index)));
  const verdicts = [];
  const evidence = [];
  const judgeAll = (networkFrom) => {
    for (const message of messages) {
      const indexes = hits.map((_, index) => index).filter((index) => messageOf(index) === message);
      const situation = situationOf({ ...sequence, hits: indexes.map((index) => sequence.hits[index]) });
      const ofMessage = indexes.map((index) => hits[index]);
      const known = { ...situation, networkFrom };
      const found = { verdicts: judge(ofMessage, known), evidence: evidenceOn(ofMessage, known) };
      indexes.forEach((index, place) => {
        verdicts[index] = found.verdicts[place];
        evidence[index] = found.evidence[place]?.map((piece) => piece.name) ?? null;
      });
    }
  };
  judgeAll(() => UNKNOWN_NETWORK);
  const lessons = verdicts.map(({ lesson }) => lesson);
  if (lessons.every((lesson) => lesson === null)) return { hits, verdicts, evidence };
  judgeAll((hit) => networkKnownTo(hit.id, hits, lessons, messageOf));
  return { hits, verdicts, evidence };
}

/** What was learnt of the network of a hit before, elsewhere than around it. */
function networkKnownTo(index, hits, lessons, messageOf) {
  const hit = hits[index];
  const counts = hits.reduce(
    (before, other, place) => {
      const isAround = messageOf(place) === messageOf(index) && hit.at - other.at <= REACH_MS;
      const isElsewhere = other.network === hit.network && other.at < hit.at && !isAround;
      return lessons[place] !== null && isElsewhere ? learnt(before, lessons[place], 1, other.at) : before;
    },
    { filter: 0, people: 0, at: 0 },
  );
  return { seenAs: seenAs(countsAt(counts, hit.at)), namedAs: null };
}

/**
 * Every sequence, judged.
 *
 * @param from those of the set, unless others in its form are given
 * @returns {{ name: string, class: string, hits: import('@kiraku/core/tracking').Hit[],
 *   labels: ('person' | 'repeat' | 'machine')[], verdicts: import('@kiraku/core/tracking').Verdict[],
 *   evidence: (string[] | null)[] }[]} `evidence` is null where a fact decides
 */
export function judgedSequences(from = LABELLED) {
  return from.map((sequence) => ({
    name: sequence.name,
    class: sequence.class,
    labels: sequence.hits.map(({ label }) => label),
    ...judgeSequence(sequence),
  }));
}

/**
 * How well each class was judged.
 *
 * @returns {Map<string, { hits: number, right: number, cost: number, worst: number, wrong: string[] }>} `worst` is the
 *   cost of judging everything wrong; `wrong` names each wrong verdict
 */
export function scores(from = LABELLED) {
  const classes = new Map();
  for (const { name, class: of, hits, labels, verdicts } of judgedSequences(from)) {
    const score = classes.get(of) ?? { hits: 0, right: 0, cost: 0, worst: 0, wrong: [] };
    classes.set(of, score);
    hits.forEach((hit, index) => {
      const isPerson = labels[index] === 'person';
      const cost = isPerson ? COST.personNotCounted : COST.otherCounted;
      const isRight = verdicts[index].counted === isPerson;
      score.hits += 1;
      score.worst += cost;
      if (isRight) score.right += 1;
      else {
        score.cost += cost;
        score.wrong.push(`${name}, ${hit.at / 1000} s: ${labels[index]}, ${verdicts[index].reason ?? 'counted'}`);
      }
    });
  }
  return classes;
}

/**
 * What was said, and what was so: how many of the hits of which it was said that they are, to some percent, a person’s were one.
 *
 * @returns {{ bins: { said: number, was: number, hits: number }[], error: number }} in steps of ten percent; the error is the
 *   mean distance between the two, over all hits
 */
export function reliability(from = LABELLED) {
  const bins = Array.from({ length: 10 }, () => ({ said: 0, was: 0, hits: 0 }));
  for (const { labels, verdicts } of judgedSequences(from))
    verdicts.forEach(({ likelihood }, index) => {
      if (likelihood === null) return;
      const bin = bins[Math.min(bins.length - 1, Math.floor(likelihood / 10))];
      bin.hits += 1;
      bin.said += likelihood;
      bin.was += labels[index] === 'machine' ? 0 : 100;
    });
  const filled = bins
    .filter(({ hits }) => hits > 0)
    .map(({ said, was, hits }) => ({ said: said / hits, was: was / hits, hits }));
  const all = filled.reduce((sum, { hits }) => sum + hits, 0);
  return {
    bins: filled,
    error: filled.reduce((sum, { said, was, hits }) => sum + (Math.abs(said - was) * hits) / all, 0) / 100,
  };
}

export { LABELLED };
