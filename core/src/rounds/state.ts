import type { RoundState } from '../contract/round.js';

/** What the user, or the round by itself, does with it, and from which states into which. */
export const ROUND_MOVES = {
  start: { from: ['preparing'], to: 'running' },
  pause: { from: ['running'], to: 'paused' },
  resume: { from: ['paused', 'stopped'], to: 'running' },
  stop: { from: ['running', 'paused'], to: 'stopped' },
} as const satisfies Record<string, { from: readonly RoundState[]; to: RoundState }>;
export type RoundMove = keyof typeof ROUND_MOVES;

/** A round that runs is done when nothing of it waits: that is not written down, since a message can be recalled. */
export function stateOf(stored: Exclude<RoundState, 'done'>, waiting: number): RoundState {
  return stored === 'running' && waiting === 0 ? 'done' : stored;
}
