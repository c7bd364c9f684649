import { act, renderHook } from '@testing-library/react';
import type { ReactNode } from 'react';
import { Provider } from 'react-redux';
import type { RoundView } from '@kiraku/core/contract';
import { BLANK_CONTENT } from '@kiraku/core/message';
import { DEFAULT_PACE, roundContentOf } from '@kiraku/core/rounds';
import { api } from '../src/shared/api/api.js';
import { store } from '../src/shared/store/store.js';
import { usePlan } from '../src/rounds/usePlan.js';
import { Network } from './network.js';

const wrapper = ({ children }: { children: ReactNode }) => <Provider store={store}>{children}</Provider>;
const round = (revision: number): RoundView => ({
  ...roundContentOf(BLANK_CONTENT),
  ...{ id: 7, name: 'Cafés', state: 'preparing', pauseReason: null, slowedBy: 1, createdAt: 0, revision },
  ...{ columns: [], members: [], results: [], comparisons: [], restWording: null, recentDays: 14, decideAt: null },
  wordings: [{ subject: 'One', html: '' }],
  pace: { ...DEFAULT_PACE, zone: 'UTC' },
});

let network: Network;
beforeEach(() => {
  store.dispatch(api.util.resetApiState());
  network = new Network();
});
const begun = () => renderHook(() => usePlan(round(3)), { wrapper }).result;

test('what is changed of a round is saved whole, each time from the revision that the save before returned', async () => {
  const result = begun();
  act(() => result.current.change({ name: 'Cafés in winter' }));
  expect(result.current.state).toBe('unsaved');
  await act(async () => {
    const flushed = result.current.flush();
    const first = await network.next();
    expect([first.method, first.path]).toEqual(['PUT', '/api/rounds/7']);
    expect(first.body).toMatchObject({ name: 'Cafés in winter', wordings: [{ subject: 'One' }], revision: 3 });
    // What is shown is not sent back.
    expect(Object.keys(first.body as object)).not.toContain('members');
    await first.respond(round(4));
    expect(await flushed).toBe(true);
  });
  expect(result.current.state).toBe('saved');
  await act(async () => {
    result.current.change({ recentDays: 7 });
    void result.current.flush();
    const second = await network.next();
    expect(second.body).toMatchObject({ name: 'Cafés in winter', recentDays: 7, revision: 4 });
    await second.respond(round(5));
  });
});

test('what cannot be saved is said, kept, and not taken for saved', async () => {
  const result = begun();
  await act(async () => {
    result.current.change({ name: 'Mine' });
    const flushed = result.current.flush();
    const problem = { title: 'Changed elsewhere', detail: 'Load it again.', status: 409 };
    await (await network.next()).respond(problem, 409);
    expect(await flushed).toBe(false);
  });
  expect(result.current.state).toEqual({ problem: 'Load it again.' });
  expect(result.current.plan.name).toBe('Mine');
});
