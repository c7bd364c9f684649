import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

export type LiveState = 'connecting' | 'live' | 'lost';

/** Whether what is shown is kept up to date this moment. */
export const liveSlice = createSlice({
  name: 'live',
  initialState: 'connecting' as LiveState,
  reducers: {
    changed: (_state, action: PayloadAction<LiveState>) => action.payload,
  },
});
