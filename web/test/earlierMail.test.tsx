import { act, render, screen } from '@testing-library/react';
import { App } from 'antd';
import { Provider } from 'react-redux';
import { MemoryRouter } from 'react-router';
import type { HistoryView } from '@kiraku/core/contract';
import EarlierMailPage from '../src/history/EarlierMailPage.js';
import { api } from '../src/shared/api/api.js';
import { store } from '../src/shared/store/store.js';
import { likeABrowser } from './browser.js';
import { Network } from './network.js';

const NOTHING: HistoryView = { step: 'none', source: '', progress: 0, found: null, problem: null, imports: [] };
const LOOKED: HistoryView = {
  ...NOTHING,
  step: 'looked',
  source: 'Sent.mbox',
  found: {
    senders: [
      { address: 'ines@tallowreed.example', messages: 12, people: 3, isOwn: true },
      { address: 'ines@oldfelt.example', messages: 1, people: 1, isOwn: false },
    ],
    firstAt: Date.UTC(2019, 2, 3, 12),
    lastAt: Date.UTC(2022, 4, 6, 12),
    leftOut: [{ why: 'no-date', count: 2 }],
  },
};

let network: Network;
beforeAll(likeABrowser);
beforeEach(() => {
  store.dispatch(api.util.resetApiState());
  network = new Network();
});

async function show(view: HistoryView): Promise<void> {
  render(
    <Provider store={store}>
      <MemoryRouter>
        <App>
          <EarlierMailPage />
        </App>
      </MemoryRouter>
    </Provider>,
  );
  await act(async () => (await network.asks('/api/history')).respond(view));
  await screen.findByText(/Import what you sent before/);
}
const press = async (name: string) => {
  const button = await screen.findByRole('button', { name });
  await act(async () => button.click());
};

test('what was found is said with what is left out, and imported for those senders whom one chooses', async () => {
  await show(LOOKED);
  expect(screen.getByRole('status').textContent).toMatch(/In Sent\.mbox: 13 messages, from .*2019 to .*2022/);
  expect(screen.getByRole('status').textContent).toContain('Left out: 2 without a date.');
  const [own, other] = screen.getAllByRole<HTMLInputElement>('checkbox');
  expect([own!.checked, other!.checked]).toEqual([true, false]);
  await act(async () => other!.click());
  await act(async () => screen.getByRole('radio', { name: /and the messages/ }).click());
  await press('Import');
  expect((await network.asks('/api/history/import')).body).toEqual({
    senders: ['ines@tallowreed.example', 'ines@oldfelt.example'],
    withMessages: true,
  });
});

test('nothing is imported of nobody, and where nothing was found', async () => {
  await show({ ...LOOKED, found: { senders: [], firstAt: null, lastAt: null, leftOut: [{ why: 'known', count: 5 }] } });
  expect(screen.getByRole('status').textContent).toContain('There is nothing to import. Left out: 5 that Kiraku has');
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Import' }).disabled).toBe(true);
});

test('what is under way can be stopped, and an import be undone only when nothing is', async () => {
  const row = { id: 4, at: Date.UTC(2026, 1, 3), source: 'Sent.mbox', withMessages: true, messages: 12, people: 3 };
  await show({ ...NOTHING, step: 'importing', source: 'Sent.mbox', progress: 0.426, imports: [row] });
  expect(screen.getByRole('status').textContent).toBe('Importing from Sent.mbox: 42%');
  const undo = screen.getByRole<HTMLButtonElement>('button', { name: 'Undo the import from Sent.mbox' });
  expect(undo.disabled).toBe(true);
  await press('Stop');
  await act(async () => (await network.asks('/api/history/stop')).respond({ ...NOTHING, imports: [row] }));
  await act(async () => (await network.asks('/api/history')).respond({ ...NOTHING, imports: [row] }));
  await press('Undo the import from Sent.mbox');
  expect(await network.asks('/api/history/imports/4')).toMatchObject({ method: 'DELETE' });
});

test('why it failed is said where one chooses again', async () => {
  await show({ ...NOTHING, problem: 'mail.example accepts no connections on port 993.' });
  expect(screen.getByRole('alert').textContent).toContain('accepts no connections');
  expect(screen.queryByRole('button', { name: 'Fetch from your mailbox' })).toBeNull();
  const mailbox = await network.asks('/api/settings/mailbox');
  await act(async () => mailbox.respond({ way: 'imap' }));
  await press('Fetch from your mailbox');
  expect(await network.asks('/api/history/mailbox')).toMatchObject({ method: 'POST' });
});
