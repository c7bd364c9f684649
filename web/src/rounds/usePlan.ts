import { useCallback, useEffect, useRef, useState } from 'react';
import type { RoundPlan, RoundView } from '@kiraku/core/contract';
import { roundPlanOf } from '@kiraku/core/rounds';
import { problemOf, type QueryError } from '../shared/api/api.js';
import { useSaveRoundMutation } from '../shared/api/roundsApi.js';

/** How long the writer must pause before the round saves itself. */
const ROUND_SAVE_PAUSE_MS = 700;

export type PlanState = 'saved' | 'unsaved' | { problem: string };

/** What a round says and when it leaves; saves itself, one save at a time, each from the revision before. */
export function usePlan(round: RoundView) {
  const [plan, setPlan] = useState<RoundPlan>(() => roundPlanOf(round));
  const [state, setState] = useState<PlanState>('saved');
  const latest = useRef(plan);
  const revision = useRef(round.revision);
  const dirty = useRef(false);
  const running = useRef<Promise<void>>(Promise.resolve());
  const timer = useRef<number>(undefined);
  const [save] = useSaveRoundMutation();
  const { id } = round;

  const saveOnce = useCallback(async () => {
    if (!dirty.current) return;
    dirty.current = false;
    try {
      const saved = await save({ id, ...latest.current, revision: revision.current }).unwrap();
      revision.current = saved.revision;
      setState(dirty.current ? 'unsaved' : 'saved');
    } catch (error) {
      dirty.current = true;
      setState({ problem: problemOf(error as QueryError).detail });
    }
  }, [id, save]);

  /** Saves what is not saved yet. Resolves with whether all is. */
  const flush = useCallback(async () => {
    clearTimeout(timer.current);
    running.current = running.current.then(saveOnce);
    await running.current;
    return !dirty.current;
  }, [saveOnce]);

  const change = useCallback(
    (part: Partial<RoundPlan>) => {
      latest.current = { ...latest.current, ...part };
      setPlan(latest.current);
      setState('unsaved');
      dirty.current = true;
      clearTimeout(timer.current);
      timer.current = window.setTimeout(() => void flush(), ROUND_SAVE_PAUSE_MS);
    },
    [flush],
  );

  // Whoever leaves the page leaves nothing unsaved.
  useEffect(() => () => void flush(), [flush]);

  return { plan, change, flush, state };
}
