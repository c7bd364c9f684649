import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

/** How many notifications came since somebody looked at this window: what its title and its icon say. */
export const unseenSlice = createSlice({
  name: 'unseen',
  initialState: 0,
  reducers: {
    came: (count, action: PayloadAction<number>) => count + action.payload,
    looked: () => 0,
  },
});
