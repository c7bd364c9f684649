import type { SessionView } from '@kiraku/core/contract';
import { DEFAULT_TIME_FORMAT, setTimeFormat } from '@kiraku/core/time';
import { Desk } from './harness.js';

let desk: Desk;
beforeAll(async () => {
  desk = await Desk.start();
});
afterAll(async () => {
  await desk.stop();
  setTimeFormat(DEFAULT_TIME_FORMAT);
});

const MINE = { clock: '12h', dateOrder: 'month-day', firstDay: 0, isChosen: true };
const stored = async () => (await desk.json<SessionView>('GET', '/api/session')).timeFormat;

test('is not known until a browser has said it, and kept then', async () => {
  expect(await stored()).toBeNull();
  const response = await desk.call('PUT', '/api/settings/time-format', MINE);
  expect(response.status).toBe(204);
  expect(await stored()).toEqual(MINE);
});

test.each([
  [{ ...MINE, clock: '13h' }, 'clock'],
  [{ ...MINE, firstDay: 3 }, 'firstDay'],
  [{ ...MINE, isChosen: 'yes' }, 'isChosen'],
])('%j is refused, and says which field is at fault', async (body, field) => {
  const response = await desk.call('PUT', '/api/settings/time-format', body);
  expect(response.status).toBe(422);
  expect(((await response.json()) as { errors: { field: string }[] }).errors.map((error) => error.field)).toEqual([
    field,
  ]);
  expect(await stored()).toEqual(MINE);
});
