import { similarDecidedText, similarText } from '@kiraku/core/sentences';
import { useLazySimilarQuery, useSetOverrideMutation, useSetOverridesMutation } from '../shared/api/judgingApi.js';
import { useUndo } from '../shared/hooks/useUndo.js';

/**
 * Decides whether an event counts; null leaves it to the rules. Past activity like it is offered to be decided on together,
 * in a notice, since the event’s own line moves where it belongs now.
 */
export function useDecide(eventId: number) {
  const [setOverride, { isLoading, error }] = useSetOverrideMutation();
  const [setOverrides] = useSetOverridesMutation();
  const [findSimilar] = useLazySimilarQuery();
  const offer = useUndo();
  const decideAll = async (eventIds: number[], counted: boolean) => {
    const { error: failed } = await setOverrides({ eventIds, counted });
    if (failed) return;
    offer({
      key: `similar-${eventId}`,
      placement: 'bottomLeft',
      title: similarDecidedText(eventIds.length, counted),
      undo: () => void setOverrides({ eventIds, counted: null }),
    });
  };
  const decide = async (counted: boolean | null) => {
    const { error: failed } = await setOverride({ eventId, counted });
    if (failed || counted === null) return;
    const { data } = await findSimilar(eventId);
    const eventIds = data?.eventIds ?? [];
    if (eventIds.length === 0) return;
    offer({
      key: `similar-${eventId}`,
      placement: 'bottomLeft',
      title: similarText(eventIds.length, counted),
      button: counted ? 'Count these too' : 'Don’t count these either',
      undo: () => void decideAll(eventIds, counted),
    });
  };
  return { decide, isLoading, error };
}
