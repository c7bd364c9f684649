import { createAction, createListenerMiddleware, type ListenerEffectAPI } from '@reduxjs/toolkit';
import type { LiveUpdate } from '@kiraku/core/contract';
import type { ApiDispatch, ApiState } from './api.js';

/** Something came over the live stream. Whatever shows a part of it listens. */
export const pushed = createAction<LiveUpdate>('live/pushed');

export const listeners = createListenerMiddleware<ApiState, ApiDispatch>();

/**
 * Calls back with each push.
 *
 * @returns stops listening
 */
export function onPushed(
  effect: (update: LiveUpdate, tools: ListenerEffectAPI<ApiState, ApiDispatch>) => void,
): () => void {
  return listeners.startListening({ actionCreator: pushed, effect: ({ payload }, tools) => effect(payload, tools) });
}
