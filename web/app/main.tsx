import './no-eval';
import '@fontsource-variable/atkinson-hyperlegible-next';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { SWRConfig } from 'swr';
import { ApiRefusal } from '../api/ask';
import { App } from './App';
import { firstParts } from './parts';
import { applyTheme, GlobalStyle, readTheme } from '../ui/theme';

applyTheme(readTheme());

// Who was here before is likely to be inside again, and on the Mat every moment counts: the next parts come while the first
// ones are still being read.
if (Object.keys(localStorage).some((key) => key.startsWith('ulkret-clock'))) {
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
      <App />
    </SWRConfig>
  </StrictMode>,
);
