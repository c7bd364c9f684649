import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

/** How many notices came since somebody looked at this window: what its title and its icon say. */
export const awaySlice = createSlice({
  name: 'away',
  initialState: 0,
  reducers: {
    came: (count, action: PayloadAction<number>) => count + action.payload,
    looked: () => 0,
  },
});
