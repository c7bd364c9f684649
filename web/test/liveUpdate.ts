import type { LiveUpdate } from '@kiraku/core/contract';

const NOTHING: LiveUpdate = {
  events: [],
  notifications: [],
  corrected: [],
  messages: [],
  isReminded: false,
  draftsChanged: false,
  gap: false,
};

/** An update of the live stream, of which only some is of interest. */
export function liveUpdate(part: object): LiveUpdate {
  return { ...NOTHING, ...part };
}
