import { act, render, screen, waitFor, within } from '@testing-library/react';
import { App } from 'antd';
import type { ComponentType } from 'react';
import { Provider } from 'react-redux';
import { MemoryRouter } from 'react-router';
import type { DraftRow, DraftsPage as Page, MessageSummary, OutboxCopy, ReminderView } from '@kiraku/core/contract';
import DraftsPage from '../src/drafts/DraftsPage.js';
import FollowupsPage from '../src/followups/FollowupsPage.js';
import OutboxPage from '../src/delivery/OutboxPage.js';
import RoundsPage from '../src/rounds/RoundsPage.js';
import { api } from '../src/shared/api/api.js';
import { pushed } from '../src/shared/api/pushed.js';
import { liveSlice } from '../src/shared/store/liveSlice.js';
import { store } from '../src/shared/store/store.js';
import TodayPage from '../src/today/TodayPage.js';
import { likeABrowser } from './browser.js';
import { Network } from './network.js';

const NO_FOLLOWUPS = {
  reminders: [],
  plans: [],
  open: { due: 0, waiting: 0, running: 0 },
  replyProblem: null,
};

/** A page, with what the server says where there is nothing yet, and what the page says then. */
const PAGES: [name: string, page: ComponentType, path: string, empty: unknown, says: RegExp][] = [
  ['drafts', DraftsPage, '/api/drafts', { drafts: [], total: 0, nextCursor: null }, /No drafts/],
  ['outbox', OutboxPage, '/api/outbox', [], /Everything is sent/],
  ['follow-ups', FollowupsPage, '/api/followups', NO_FOLLOWUPS, /No follow-ups yet/],
  ['rounds', RoundsPage, '/api/rounds', [], /No rounds yet/],
  ['today', TodayPage, '/api/today', { proposals: [], more: 0, noSignTotal: 0 }, /Nobody/],
];

let network: Network;
beforeAll(likeABrowser);
beforeEach(() => {
  store.dispatch(api.util.resetApiState());
  network = new Network();
});

const show = (Shown: ComponentType, at = '/') =>
  render(
    <Provider store={store}>
      <MemoryRouter initialEntries={[at]}>
        <App>
          <Shown />
        </App>
      </MemoryRouter>
    </Provider>,
  );

const asked = (path: string) => network.asks(path);

/** What a page asks for beside what it is about. */
async function respondToOthers(path: string): Promise<void> {
  if (path === '/api/today') await (await asked('/api/followups')).respond(NO_FOLLOWUPS);
}

describe.each(PAGES)('the page of %s', (_name, page, path, empty, says) => {
  test('says what is wrong where it cannot be loaded, and loads it again', async () => {
    show(page);
    const problem = { title: 'The disk is full', detail: 'Free some space.', status: 507 };
    await act(async () => (await asked(path)).respond(problem, 507));
    const alert = await screen.findByRole('alert');
    expect(alert.textContent).toContain('The disk is full');
    await act(async () => {
      within(alert).getByRole('button', { name: 'Try again' }).click();
      await (await asked(path)).respond(empty);
    });
    await waitFor(() => expect(screen.queryByText('The disk is full')).toBeNull());
  });

  test('loads what could not be loaded by itself once the connection is back', async () => {
    show(page);
    await act(async () => (await asked(path)).fail());
    await act(() => respondToOthers(path));
    await screen.findByText('Kiraku cannot be reached');
    await act(async () => void store.dispatch(liveSlice.actions.changed('lost')));
    await act(async () => void store.dispatch(liveSlice.actions.changed('live')));
    await act(async () => (await asked(path)).respond(empty));
    await waitFor(() => expect(document.body.textContent).toMatch(says));
    expect(screen.queryByText('Kiraku cannot be reached')).toBeNull();
  });

  test('says so where there is nothing yet', async () => {
    show(page);
    await act(async () => (await asked(path)).respond(empty));
    await act(() => respondToOthers(path));
    await waitFor(() => expect(document.body.textContent).toMatch(says));
  });
});

test('drafts come a page at a time', async () => {
  const row = (id: number): DraftRow => ({ id, recipients: [], subject: `Draft ${id}`, updatedAt: id });
  show(DraftsPage);
  await act(async () =>
    (await asked('/api/drafts')).respond({ drafts: [row(3), row(2)], total: 3, nextCursor: '2.2' } satisfies Page),
  );
  await screen.findByText(/3 drafts/);
  await act(async () => {
    screen.getByRole('button', { name: 'Show more' }).click();
    const more = await asked('/api/drafts');
    expect(more.path).toBe('/api/drafts?cursor=2.2');
    await more.respond({ drafts: [row(1)], total: 3, nextCursor: null } satisfies Page);
  });
  await screen.findByText('Draft 1');
  expect(screen.getAllByRole('link').map(({ textContent }) => textContent)).toEqual(['Draft 3', 'Draft 2', 'Draft 1']);
  expect(screen.queryByRole('button', { name: 'Show more' })).toBeNull();
});

test.each([
  ['/follow-ups', '1 reminder due, 249 waiting'],
  ['/follow-ups?who=Ilse%20Marten', '0 reminders due, 1 waiting'],
])('follow-ups at %s count what there is, and say that some are not shown', async (at, counted) => {
  const reminder = (id: number, name: string, state: ReminderView['state']): ReminderView => ({
    id,
    state,
    dueAt: id,
    condition: 'always',
    note: '',
    byEmail: false,
    zone: 'UTC',
    message: null,
    person: { id, name, address: `${id}@x.example`, phone: '' },
    reason: null,
    endedAt: null,
  });
  show(FollowupsPage, at);
  const reminders = [reminder(1, 'Rafe Linden', 'due'), reminder(2, 'Ilse Marten', 'waiting')];
  const open = { due: 1, waiting: 249, running: 0 };
  await act(async () => (await asked('/api/followups')).respond({ ...NO_FOLLOWUPS, reminders, open }));
  await screen.findByText(/and not 248 more reminders/);
  expect(document.body.textContent).toContain(counted);
});

test('a copy that failed says why, and can be sent to another address', async () => {
  const copy: OutboxCopy = {
    copyId: 8,
    messageId: 5,
    recipient: { kind: 'to', name: 'Marit Oakes', address: 'marit@lindqvist.example' },
    subject: 'Panels',
    state: 'failed',
    attempts: 1,
    createdAt: 1000,
    nextAttemptAt: null,
    lastError: '550 No such user',
  };
  show(OutboxPage);
  await act(async () => (await asked('/api/outbox')).respond([copy]));
  await screen.findByText('550 No such user');
  expect(screen.getByRole('link', { name: 'Panels' }).getAttribute('href')).toBe('/sent/5');
});

test('a copy that has left goes from the outbox by itself', async () => {
  show(OutboxPage);
  // As long as anything is being loaded, nothing is loaded again.
  await act(async () => (await asked('/api/outbox')).respond([]));
  await act(async () => (await asked('/api/refused-mails')).respond([]));
  const messages = [{ id: 5 }] as MessageSummary[];
  const nothing = { events: [], notifications: [], corrected: [], isReminded: false, draftsChanged: false, gap: false };
  await act(async () => void store.dispatch(pushed({ ...nothing, messages })));
  await act(async () => (await asked('/api/outbox')).respond([]));
});
