import { SET_UP_STEPS } from '@kiraku/core/contract';
import { nextSetUpStep, SET_UP_TEXTS, setUpStepText } from '@kiraku/core/sentences';

test('each step leads to the next, and the last one to the end', () => {
  const gone = SET_UP_STEPS.map((step) => nextSetUpStep(step));
  expect(gone).toEqual([...SET_UP_STEPS.slice(1), null]);
  expect(SET_UP_STEPS.map(setUpStepText)).toEqual([1, 2, 3, 4, 5, 6].map((n) => `Step ${n} of 6`));
  expect(new Set(SET_UP_STEPS.map((step) => SET_UP_TEXTS[step].title)).size).toBe(SET_UP_STEPS.length);
});
