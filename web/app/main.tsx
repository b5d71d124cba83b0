import './no-eval';
import '@fontsource-variable/atkinson-hyperlegible-next';
import { lazy, StrictMode, Suspense } from 'react';
import { createRoot } from 'react-dom/client';
import { SWRConfig } from 'swr';
import { ApiRefusal } from '../api/ask';
import { App } from './App';
import { firstParts } from './parts';
import { applyTheme, GlobalStyle, readTheme } from '../ui/theme';

/** The one page for those who do not sign in. */
const forStrangers = window.location.pathname === '/card';
const OpenedCard = lazy(() => import('./OpenedCard'));

applyTheme(readTheme());

if (!forStrangers) {
  // The whole app comes to the device of whoever works with it; not to a phone on which one card is looked at.
  window.addEventListener(
    'load',
    () => void navigator.serviceWorker?.register('/sw.js').catch(() => undefined),
  );
  // Who was here before is likely to be inside again, and on the Mat every moment counts: the next parts come while the
  // first ones are still being read.
  if (Object.keys(localStorage).some((key) => key.startsWith('ulkret-clock')))
    for (const part of firstParts(window.location.pathname)) void part.load();
}

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <SWRConfig
      value={{
        shouldRetryOnError: (error: unknown) =>
          !(error instanceof ApiRefusal) || error.status === 0 || error.status >= 500,
        errorRetryInterval: 4000,
      }}
    >
      <GlobalStyle />
      {forStrangers ? (
        <Suspense>
          <OpenedCard />
        </Suspense>
      ) : (
        <App />
      )}
    </SWRConfig>
  </StrictMode>,
);
