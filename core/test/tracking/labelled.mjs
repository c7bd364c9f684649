import { readFileSync } from 'node:fs';
import { describeAgent, judge, networkOf, readNetwork } from '@kiraku/core/tracking';

/*
 * A set of hits with what is true of each: a person's look, the same look again, or a machine (which here means anything
 * that is not a recipient's look). The tests hold the judging to it, and the benchmark tells how well it does, so both
 * read it here.
 */

/** A person taken for a machine is a missed call; a machine taken for a person is a call too many. */
const COST = { personNotCounted: 5, otherCounted: 1 };

const { agents, sequences } = JSON.parse(readFileSync(new URL('./labelled.json', import.meta.url), 'utf8'));

const DAY = 24 * 60 * 60 * 1000;

/** The hits of a sequence; times are since sending. */
function hitsOf(sequence) {
  return sequence.hits.map(({ at, copy, link, ip, agent, method, purpose, ownDevice, dnt, hosted }, id) => ({
    id,
    at,
    kind: link === null ? 'opened' : 'clicked',
    copyId: copy,
    linkId: link,
    sentFileId: null,
    ip,
    network: networkOf(ip),
    userAgent: agents[agent],
    agent: describeAgent(agents[agent]),
    method: method ?? 'GET',
    purpose: purpose ?? '',
    ownDevice: ownDevice ?? false,
    dnt: dnt ?? false,
    hosted: hosted ?? false,
    active: false,
  }));
}

function situationOf({ hits, own = [], colleagues = 'count', colleague = [], respect = false, days = null }) {
  const copyIds = hits.map(({ copy }) => copy);
  return {
    copies: new Map(copyIds.map((id) => [id, { sentAt: 0, colleague: colleague.includes(id) }])),
    ownNetworks: own.map((text) => readNetwork(text)),
    colleagues,
    respectDnt: respect,
    trackForMs: days && days * DAY,
    notifyForMs: null,
  };
}

/**
 * Every sequence, judged.
 *
 * @param from those of the set, unless others in its form are given
 * @returns {{ name: string, class: string, hits: import('@kiraku/core/tracking').Hit[],
 *   situation: import('@kiraku/core/tracking').Situation, labels: ('person' | 'repeat' | 'machine')[],
 *   verdicts: import('@kiraku/core/tracking').Verdict[] }[]}
 */
export function judgedSequences(from = sequences) {
  return from.map((sequence) => {
    const hits = hitsOf(sequence);
    const situation = situationOf(sequence);
    const labels = sequence.hits.map(({ label }) => label);
    return { name: sequence.name, class: sequence.class, hits, situation, labels, verdicts: judge(hits, situation) };
  });
}

/**
 * How well each class was judged.
 *
 * @returns {Map<string, { hits: number, right: number, cost: number, worst: number, wrong: string[] }>} `worst` is the
 *   cost of judging everything wrong; `wrong` names each wrong verdict
 */
export function scores(from = sequences) {
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
