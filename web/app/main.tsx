import './no-eval';
import '@fontsource-variable/atkinson-hyperlegible-next';
import { type ComponentType, lazy, StrictMode, Suspense } from 'react';
import { createRoot } from 'react-dom/client';
import { SWRConfig } from 'swr';
import { ApiRefusal } from '../api/ask';
import { App } from './App';
import { firstParts } from './parts';
import { applyTheme, GlobalStyle, readTheme } from '../ui/theme';

/** The pages for those who have not signed in: a card by its link, and the way in by an invitation. */
const forStrangers: Readonly<Record<string, ComponentType>> = {
  '/card': lazy(() => import('./OpenedCard')),
  '/join': lazy(() => import('./Joining')),
};
const ForStranger = forStrangers[window.location.pathname];

applyTheme(readTheme());

if (!ForStranger) {
  // A coach's device gets the whole app; a phone that opens one card does not.
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
      {ForStranger ? (
        <Suspense>
          <ForStranger />
        </Suspense>
      ) : (
        <App />
      )}
    </SWRConfig>
  </StrictMode>,
);
