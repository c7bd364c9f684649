import { act, render, screen, waitFor } from '@testing-library/react';
import { App } from 'antd';
import { Provider } from 'react-redux';
import { MemoryRouter, Route, Routes } from 'react-router';
import type { SessionView } from '@kiraku/core/contract';
import { SignedIn } from '../src/app/SignedIn.js';
import { api } from '../src/shared/api/api.js';
import { sessionApi } from '../src/shared/api/sessionApi.js';
import { store } from '../src/shared/store/store.js';
import { likeABrowser } from './browser.js';
import { Network } from './network.js';

const SESSION: SessionView = {
  setUp: true,
  signedIn: true,
  setUpStep: null,
  account: null,
  publicUrl: 'https://kiraku.example',
  timeFormat: { clock: '24h', dateOrder: 'day-month', firstDay: 1, isChosen: true },
};

let network: Network;
beforeAll(likeABrowser);
beforeEach(() => {
  store.dispatch(api.util.resetApiState());
  network = new Network();
  render(
    <Provider store={store}>
      <MemoryRouter>
        <App>
          <Routes>
            <Route element={<SignedIn />}>
              <Route path="*" element={<textarea aria-label="Message" />} />
            </Route>
            <Route path="/sign-in" element={<p>Sign in first</p>} />
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

test('who cannot be told yet whether they are signed in is told why', async () => {
  await act(async () => (await session()).fail());
  await screen.findByText('Kiraku cannot be reached');
  screen.getByRole('button', { name: 'Try again' }).click();
  await act(async () => (await session()).respond(SESSION));
  await screen.findByRole('textbox');
});

test('who is signed out elsewhere signs in first', async () => {
  await act(async () => (await session()).respond(SESSION));
  await sessionChanged();
  await act(async () => (await session()).respond({ ...SESSION, signedIn: false }));
  await screen.findByText('Sign in first');
});
