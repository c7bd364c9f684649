import { useEffect, useEffectEvent, useState } from 'react';
import type { LiveUpdate } from '@kiraku/core/contract';
import { pushed } from '../shared/api/pushed.js';
import { liveSlice, type LiveState } from '../shared/store/liveSlice.js';
import { useAppDispatch, useAppSelector } from '../shared/store/store.js';
import { listenLive } from './live.js';
import { paced } from './paced.js';

/**
 * Tells the store of each push of the live stream, and passes it on.
 *
 * @param after where the stream begins: known before anything that it keeps up to date was read, so that nothing happens
 *   unseen in between. Whoever comes back from where there is none goes on where they left it
 */
export function useLive(after: string, onUpdate: (update: LiveUpdate) => void): void {
  const dispatch = useAppDispatch();
  const left = useAppSelector(({ live }) => live.after);
  const [start] = useState(left || after);
  const take = useEffectEvent((update: LiveUpdate) => {
    dispatch(pushed(update));
    onUpdate(update);
  });
  useEffect(() => {
    const pace = paced((update) => take(update));
    const onState = (state: LiveState) => dispatch(liveSlice.actions.changed(state));
    const close = listenLive({ after: start, onState, onUpdate: pace.take });
    return () => {
      dispatch(liveSlice.actions.left(close()));
      pace.close();
    };
  }, [dispatch, start]);
}
