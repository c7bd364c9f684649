import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

const KEY = 'kiraku.keys';
const OFF = 'off';

/** Whether single keys do something in this browser (WCAG 2.2, 2.1.4: they can be switched off). */
export const keysSlice = createSlice({
  name: 'keys',
  initialState: () => localStorage.getItem(KEY) !== OFF,
  reducers: {
    switched: (_state, action: PayloadAction<boolean>) => action.payload,
  },
});

export function rememberKeys(areOn: boolean): void {
  if (areOn) localStorage.removeItem(KEY);
  else localStorage.setItem(KEY, OFF);
}
