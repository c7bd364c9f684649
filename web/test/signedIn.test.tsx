import { act, render, screen, waitFor } from '@testing-library/react';
import { App } from 'antd';
import { Provider } from 'react-redux';
import { Link, MemoryRouter, Route, Routes } from 'react-router';
import { NOTIFICATION_KINDS, type NotificationSettingsView, type SessionView } from '@kiraku/core/contract';
import { SignedIn } from '../src/app/SignedIn.js';
import SignInPage from '../src/session/SignInPage.js';
import { api } from '../src/shared/api/api.js';
import { recentApi } from '../src/shared/api/recentApi.js';
import { sessionApi } from '../src/shared/api/sessionApi.js';
import { liveSlice } from '../src/shared/store/liveSlice.js';
import { store } from '../src/shared/store/store.js';
import { likeABrowser } from './browser.js';
import { liveUpdate } from './liveUpdate.js';
import { Network } from './network.js';

const SESSION: SessionView = {
  setUp: true,
  signedIn: true,
  setUpStep: null,
  account: null,
  publicUrl: 'https://kiraku.example',
  liveAfter: '7.3',
  timeFormat: { clock: '24h', dateOrder: 'day-month', firstDay: 1, isChosen: true },
};

const STAYING: NotificationSettingsView = {
  channels: Object.fromEntries(NOTIFICATION_KINDS.map((kind) => [kind, []])) as never,
  stay: true,
  quietHours: null,
  zone: 'UTC',
  mutedUntil: null,
};

const Page = () => (
  <>
    <textarea aria-label="Message" />
    <Link to="/set-up">Go to set-up</Link>
  </>
);

let network: Network;
let streams: EventSource[];
beforeAll(() => {
  likeABrowser();
  const Silent = globalThis.EventSource;
  globalThis.EventSource = class extends Silent {
    constructor(url: string | URL) {
      super(url);
      Object.assign(this, { url: String(url) });
      streams.push(this);
    }
  };
});
beforeEach(() => {
  streams = [];
  store.dispatch(liveSlice.actions.left(''));
  store.dispatch(api.util.resetApiState());
  network = new Network();
  render(
    <Provider store={store}>
      <MemoryRouter>
        <App>
          <Routes>
            <Route element={<SignedIn />}>
              <Route path="*" element={<Page />} />
            </Route>
            <Route path="/set-up" element={<Link to="/today">Leave set-up</Link>} />
            <Route path="/sign-in" element={<SignInPage />} />
          </Routes>
        </App>
      </MemoryRouter>
    </Provider>,
  );
});

const session = () => network.asks('/api/session');

/** As after the settings were saved; nothing is asked for again before all else has its response. */
async function sessionChanged() {
  await act(async () => {
    for (const request of network.asked.splice(0)) await request.fail();
    store.dispatch(api.util.invalidateTags(['Session']));
  });
}

test('whoever is writing keeps what they wrote while the server cannot be reached', async () => {
  await act(async () => (await session()).respond(SESSION));
  const message = await screen.findByRole<HTMLTextAreaElement>('textbox');
  message.value = 'Half a sen';
  await sessionChanged();
  await act(async () => (await session()).fail());
  // The store has come to know of it, and what is shown has followed.
  await waitFor(() => expect(sessionApi.endpoints.session.select(null)(store.getState()).isError).toBe(true));
  await act(() => new Promise((resolve) => setTimeout(resolve, 50)));
  expect(screen.getByRole('textbox')).toBe(message);
  expect(screen.queryByText('Kiraku cannot be reached')).toBeNull();
});

test('one live stream tells of all since it was known who has signed in, whatever is set meanwhile', async () => {
  await act(async () => (await session()).respond(SESSION));
  await screen.findByRole('textbox');
  const settings = await network.asks('/api/settings/notifications');
  await act(() => settings.respond(STAYING));
  await sessionChanged();
  const changed = { ...SESSION, liveAfter: '9.9', timeFormat: { ...SESSION.timeFormat!, clock: '12h' as const } };
  await act(async () => (await session()).respond(changed));
  await screen.findByRole('textbox');
  expect(streams.map(({ url }) => url)).toEqual(['/api/live?after=7.3']);
});

test('who comes back from set-up is told nothing twice, and who signs in begins where they do', async () => {
  await act(async () => (await session()).respond(SESSION));
  await screen.findByRole('textbox');
  const push = new MessageEvent('message', { data: JSON.stringify(liveUpdate({})), lastEventId: '8.4' });
  await act(async () => void streams[0]!.dispatchEvent(push));
  await act(async () => screen.getByRole('link', { name: 'Go to set-up' }).click());
  await act(async () => screen.getByRole('link', { name: 'Leave set-up' }).click());
  await screen.findByRole('textbox');
  expect(streams.map(({ url }) => url)).toEqual(['/api/live?after=7.3', '/api/live?after=8.4']);

  await sessionChanged();
  await act(async () => (await session()).respond({ ...SESSION, signedIn: false }));
  await screen.findByLabelText('Passphrase');
  await act(async () => void store.dispatch(api.util.invalidateTags(['Session'])));
  await act(async () => (await session()).respond({ ...SESSION, liveAfter: '9.9' }));
  await screen.findByRole('textbox');
  expect(streams.at(-1)!.url).toBe('/api/live?after=9.9');
});

test('who cannot be told yet whether they are signed in is told why', async () => {
  await act(async () => (await session()).fail());
  await screen.findByText('Kiraku cannot be reached');
  screen.getByRole('button', { name: 'Try again' }).click();
  await act(async () => (await session()).respond(SESSION));
  await screen.findByRole('textbox');
});

test('who is signed out elsewhere signs in first, and is shown nothing then that was read before', async () => {
  await act(async () => (await session()).respond(SESSION));
  await screen.findByRole('textbox');
  await act(async () => (await network.asks('/api/events/recent')).respond({ events: [], leftOut: 3 }));
  const read = () => recentApi.endpoints.recent.select(null)(store.getState()).data;
  expect(read()).toEqual({ events: [], leftOut: 3 });
  await sessionChanged();
  await act(async () => (await session()).respond({ ...SESSION, signedIn: false }));
  await screen.findByLabelText('Passphrase');
  await waitFor(() => expect(read()).toBeUndefined());
});
