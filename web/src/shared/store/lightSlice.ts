import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import { LIGHTS, type Light } from '@kiraku/core/look';

export type LightChoice = Light | 'system';

const KEY = 'kiraku.light';
const CHOICES: readonly LightChoice[] = ['system', ...LIGHTS];

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
