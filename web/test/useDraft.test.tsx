import { jest } from '@jest/globals';
import { act, renderHook } from '@testing-library/react';
import type { ReactNode } from 'react';
import { Provider } from 'react-redux';
import type { Draft } from '@kiraku/core/contract';
import { BLANK_CONTENT } from '@kiraku/core/message';
import { store } from '../src/shared/store/store.js';
import { useDraft } from '../src/write/useDraft.js';
import { Network, settled } from './network.js';

const wrapper = ({ children }: { children: ReactNode }) => <Provider store={store}>{children}</Provider>;
const draft = (revision: number, subject: string): Draft => ({
  ...BLANK_CONTENT,
  id: 5,
  revision,
  updatedAt: 1000 * revision,
  subject,
});
const begun = (initial: Draft | null, onAdded = jest.fn<(id: number) => void>()) => {
  const { result, unmount } = renderHook(() => useDraft(initial, BLANK_CONTENT, onAdded), { wrapper });
  return { result, unmount, onAdded };
};

let network: Network;
beforeEach(() => {
  network = new Network();
});

test('what is written is saved under the revision that the save before returned', async () => {
  const { result } = begun(draft(1, 'One'));
  act(() => result.current.change({ subject: 'Two' }));
  expect(result.current.saveState).toEqual({ kind: 'unsaved' });
  await act(async () => {
    void result.current.flush();
    const first = await network.next();
    expect([first.method, first.path, first.body]).toEqual([
      'PUT',
      '/api/drafts/5',
      expect.objectContaining({ subject: 'Two', revision: 1 }),
    ]);
    await first.respond(draft(2, 'Two'));
  });
  expect(result.current.saveState).toEqual({ kind: 'saved', at: 2000 });
  await act(async () => {
    result.current.change({ subject: 'Three' });
    void result.current.flush();
    const second = await network.next();
    expect(second.body).toMatchObject({ subject: 'Three', revision: 2 });
    await second.respond(draft(3, 'Three'));
  });
  expect(result.current.saved()).toEqual({ id: 5, revision: 3 });
});

test('one save runs at a time: what is written meanwhile goes with the next', async () => {
  const { result } = begun(draft(1, 'One'));
  await act(async () => {
    result.current.change({ subject: 'Two' });
    void result.current.flush();
    const first = await network.next();
    result.current.change({ subject: 'Three' });
    void result.current.flush();
    await settled();
    expect(network.asked).toEqual([]);
    await first.respond(draft(2, 'Two'));
    const second = await network.next();
    expect(second.body).toMatchObject({ subject: 'Three', revision: 2 });
    await second.respond(draft(3, 'Three'));
  });
  expect(result.current.content.subject).toBe('Three');
  expect(result.current.saveState.kind).toBe('saved');
});

test('a new message gets its number once, however often it is saved', async () => {
  const { result, onAdded } = begun(null);
  expect(result.current.saveState.kind).toBe('empty');
  await act(async () => {
    result.current.change({ subject: 'New' });
    void result.current.flush();
    const added = await network.next();
    expect([added.method, added.path]).toEqual(['POST', '/api/drafts']);
    result.current.change({ subject: 'Newer' });
    void result.current.flush();
    await added.respond(draft(1, 'New'), 201);
    const saved = await network.next();
    expect([saved.method, saved.path]).toEqual(['PUT', '/api/drafts/5']);
    await saved.respond(draft(2, 'Newer'));
  });
  expect(onAdded.mock.calls).toEqual([[5]]);
});

test('where the network fails nothing is lost: the next save has it', async () => {
  const { result } = begun(draft(1, 'One'));
  await act(async () => {
    result.current.change({ subject: 'Two' });
    void result.current.flush();
    await (await network.next()).fail();
  });
  expect(result.current.saveState).toMatchObject({ kind: 'failed', conflict: false });
  expect(result.current.saved()).toBeNull();
  await act(async () => {
    void result.current.flush();
    const again = await network.next();
    expect(again.body).toMatchObject({ subject: 'Two', revision: 1 });
    await again.respond(draft(2, 'Two'));
  });
  expect(result.current.saveState.kind).toBe('saved');
});

test('what another window saved is not written over; what stands here can become a draft of its own', async () => {
  const { result, onAdded } = begun(draft(1, 'One'));
  const problem = { type: 'about:blank', title: 'Changed elsewhere', status: 409, detail: 'In another window.' };
  await act(async () => {
    result.current.change({ subject: 'Mine' });
    void result.current.flush();
    await (await network.next()).respond(problem, 409);
  });
  expect(result.current.saveState).toEqual({
    kind: 'failed',
    title: 'Changed elsewhere',
    detail: 'In another window.',
    conflict: true,
  });
  await act(async () => {
    void result.current.keepAsNew();
    const added = await network.next();
    expect([added.method, added.path, added.body]).toEqual([
      'POST',
      '/api/drafts',
      expect.objectContaining({ subject: 'Mine' }),
    ]);
    await added.respond({ ...draft(1, 'Mine'), id: 9 }, 201);
  });
  expect(onAdded.mock.calls).toEqual([[9]]);
  expect(result.current.saved()).toEqual({ id: 9, revision: 1 });
});

test('whoever leaves the page leaves nothing unsaved, and whoever changed nothing asks for nothing', async () => {
  const untouched = begun(draft(1, 'One'));
  untouched.unmount();
  await settled();
  expect(network.asked).toEqual([]);
  const { result, unmount } = begun(draft(1, 'One'));
  act(() => result.current.change({ subject: 'Two' }));
  unmount();
  expect((await network.next()).body).toMatchObject({ subject: 'Two', revision: 1 });
});
