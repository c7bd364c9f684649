import { useUndo } from './useUndo.js';

/**
 * For settings that are saved as soon as they are chosen: saves, and offers to undo that.
 *
 * @param section what the settings are called: their next change takes the place of the last one
 * @param save stores them
 * @returns stores what was chosen; `before` is what was stored
 */
export function useSavedAtOnce<T>(section: string, save: (values: T) => PromiseLike<{ error?: unknown }>) {
  const offerUndo = useUndo();
  return async (values: T, before: T): Promise<void> => {
    if ((await save(values)).error) return;
    offerUndo({ key: `settings ${section}`, title: 'Saved', description: section, undo: () => void save(before) });
  };
}
