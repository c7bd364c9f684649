import { useEffect } from 'react';
import type { LiveUpdate } from '@kiraku/core/contract';
import { pushed } from '../shared/api/pushed.js';
import { liveSlice } from '../shared/store/liveSlice.js';
import { useAppDispatch } from '../shared/store/store.js';
import { listenLive } from './live.js';
import { paced } from './paced.js';

/** Tells the store of each push of the live stream, and passes it on. */
export function useLive(onUpdate: (update: LiveUpdate) => void): void {
  const dispatch = useAppDispatch();
  useEffect(() => {
    const pace = paced((update) => {
      dispatch(pushed(update));
      onUpdate(update);
    });
    const close = listenLive({ onState: (state) => dispatch(liveSlice.actions.changed(state)), onUpdate: pace.take });
    return () => {
      close();
      pace.close();
    };
  }, [dispatch, onUpdate]);
}
