import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

export type Light = 'light' | 'dark';
export type LightChoice = Light | 'system';

const KEY = 'kiraku.light';
const CHOICES: readonly LightChoice[] = ['system', 'light', 'dark'];

function stored(): LightChoice {
  const text = localStorage.getItem(KEY);
  return CHOICES.find((choice) => choice === text) ?? 'system';
}

/** In which light this browser shows the desk. */
export const lightSlice = createSlice({
  name: 'light',
  initialState: stored,
  reducers: {
    chosen: (_state, action: PayloadAction<LightChoice>) => action.payload,
  },
});

export function rememberLight(choice: LightChoice): void {
  localStorage.setItem(KEY, choice);
}
