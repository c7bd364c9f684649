import { useCallback, useEffect, useRef, useState } from 'react';
import type { Draft, DraftContent } from '@kiraku/core/contract';
import { contentOf } from '@kiraku/core/message';
import { problemOf, type QueryError } from '../shared/api/api.js';
import { useAddDraftMutation, useSaveDraftMutation } from '../shared/api/draftsApi.js';

/** How long the writer must pause before the draft saves itself. */
const SAVE_PAUSE_MS = 700;

export type SaveState =
  | { kind: 'empty' }
  | { kind: 'unsaved' }
  | { kind: 'saved'; at: number }
  | { kind: 'failed'; title: string; detail: string; conflict: boolean };

/** Changes a part of what is written, or what a function makes of how it stands. */
export type ChangeDraft = (part: Partial<DraftContent> | ((content: DraftContent) => Partial<DraftContent>)) => void;

interface Identity {
  id: number;
  revision: number;
}

/**
 * A draft that saves itself. One save runs at a time, and each starts from the revision that the one before returned,
 * so that only another window can be in its way.
 */
export function useDraft(initial: Draft | null, begin: DraftContent, onAdded: (id: number) => void) {
  const [content, setContent] = useState<DraftContent>(initial ?? begin);
  const [saveState, setSaveState] = useState<SaveState>(
    initial ? { kind: 'saved', at: initial.updatedAt } : { kind: 'empty' },
  );
  const identity = useRef<Identity | null>(initial && { id: initial.id, revision: initial.revision });
  const latest = useRef(content);
  const dirty = useRef(false);
  const running = useRef<Promise<void>>(Promise.resolve());
  const timer = useRef<number>(undefined);
  const [addDraft] = useAddDraftMutation();
  const [saveDraft] = useSaveDraftMutation();

  const saveOnce = useCallback(async () => {
    if (!dirty.current) return;
    dirty.current = false;
    const body = contentOf(latest.current);
    try {
      const added = identity.current === null;
      const saved = await (identity.current
        ? saveDraft({ ...body, ...identity.current }).unwrap()
        : addDraft(body).unwrap());
      identity.current = { id: saved.id, revision: saved.revision };
      if (added) onAdded(saved.id);
      setSaveState(dirty.current ? { kind: 'unsaved' } : { kind: 'saved', at: saved.updatedAt });
    } catch (error) {
      dirty.current = true;
      const { title, detail, status } = problemOf(error as QueryError);
      setSaveState({ kind: 'failed', title, detail, conflict: status === 409 });
    }
  }, [addDraft, saveDraft, onAdded]);

  /** Saves what is not saved yet; resolves when it is, or has failed. */
  const flush = useCallback(() => {
    clearTimeout(timer.current);
    running.current = running.current.then(saveOnce);
    return running.current;
  }, [saveOnce]);

  const change: ChangeDraft = useCallback(
    (part) => {
      latest.current = { ...latest.current, ...(typeof part === 'function' ? part(latest.current) : part) };
      dirty.current = true;
      setContent(latest.current);
      setSaveState({ kind: 'unsaved' });
      clearTimeout(timer.current);
      timer.current = window.setTimeout(() => void flush(), SAVE_PAUSE_MS);
    },
    [flush],
  );

  /** Gives up the place of the other window's draft: what stands here becomes a draft of its own. */
  const keepAsNew = useCallback(() => {
    identity.current = null;
    dirty.current = true;
    return flush();
  }, [flush]);

  useEffect(() => {
    const leave = () => void flush();
    const hidden = () => document.visibilityState === 'hidden' && leave();
    document.addEventListener('visibilitychange', hidden);
    return () => {
      document.removeEventListener('visibilitychange', hidden);
      leave();
    };
  }, [flush]);

  /** The draft as the server knows it now; null where nothing was ever saved. */
  const saved = useCallback(() => (dirty.current ? null : identity.current), []);
  return { content, change, flush, saved, saveState, keepAsNew };
}
