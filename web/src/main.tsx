import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { Provider } from 'react-redux';
import { Root } from './app/Root.js';
import { store } from './shared/store/store.js';
import { sessionApi } from './shared/api/sessionApi.js';
import './app/base.css';

// Who is there is asked while the code of the page is on its way, and not only once it has come.
void store.dispatch(sessionApi.endpoints.session.initiate(null));

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <Provider store={store}>
      <Root />
    </Provider>
  </StrictMode>,
);
