import { useEffect, useEffectEvent, useState } from 'react';
import type { LiveUpdate } from '@kiraku/core/contract';
import { pushed } from '../shared/api/pushed.js';
import { liveSlice, type LiveState } from '../shared/store/liveSlice.js';
import { useAppDispatch } from '../shared/store/store.js';
import { listenLive } from './live.js';
import { paced } from './paced.js';

/**
 * Tells the store of each push of the live stream, and passes it on.
 *
 * @param after where the stream goes on, the first time: what happens between that and the first push is pushed then, so
 *   that nothing is missed that is read in the meantime
 */
export function useLive(after: string, onUpdate: (update: LiveUpdate) => void): void {
  const dispatch = useAppDispatch();
  const [start] = useState(after);
  const take = useEffectEvent((update: LiveUpdate) => {
    dispatch(pushed(update));
    onUpdate(update);
  });
  useEffect(() => {
    const pace = paced((update) => take(update));
    const onState = (state: LiveState) => dispatch(liveSlice.actions.changed(state));
    const close = listenLive({ after: start, onState, onUpdate: pace.take });
    return () => {
      close();
      pace.close();
    };
  }, [dispatch, start]);
}
