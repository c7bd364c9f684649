import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

export type LiveState = 'connecting' | 'live' | 'lost';

interface Live {
  /** Whether what is shown is kept up to date this moment. */
  state: LiveState;
  /** The last push that was taken when the stream was left, where it goes on; empty where it begins anew. */
  after: string;
}

/** What is known of the live stream. */
export const liveSlice = createSlice({
  name: 'live',
  initialState: { state: 'connecting', after: '' } as Live,
  reducers: {
    changed: (live, { payload }: PayloadAction<LiveState>) => ({ ...live, state: payload }),
    left: (live, { payload }: PayloadAction<string>) => ({ ...live, after: payload }),
  },
});
