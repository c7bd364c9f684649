import type { Verdict } from '@kiraku/core/tracking';

/** The labelled sets and their judging belong to the core's tests, which are not compiled. */
export interface Sequence {
  class: string;
  links?: number;
}

export interface JudgedSequence {
  name: string;
  class: string;
  labels: ('person' | 'repeat' | 'machine')[];
  verdicts: Verdict[];
  /** Names, strongest first; null where a fact decides. */
  evidence: (string[] | null)[];
}

export interface Score {
  hits: number;
  right: number;
  cost: number;
  worst: number;
  wrong: string[];
}

const fromTests = (name: string) => import(new URL(`../../../core/test/tracking/${name}`, import.meta.url).href);

export const { judgedSequences, reliability, scores, LABELLED } = (await fromTests('labelled.mjs')) as {
  judgedSequences(from?: Sequence[]): JudgedSequence[];
  reliability(from?: Sequence[]): { bins: { said: number; was: number; hits: number }[]; error: number };
  scores(from?: Sequence[]): Map<string, Score>;
  LABELLED: Sequence[];
};
export const { BEYOND_US, HALVES } = (await fromTests('behaviours.mjs')) as {
  BEYOND_US: string;
  HALVES: Record<'fitting' | 'checking', Sequence[]>;
};
