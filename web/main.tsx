import '@fontsource-variable/atkinson-hyperlegible-next';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { SWRConfig } from 'swr';
import { ApiRefusal } from './shell/ask';
import { App } from './shell/App';
import { applyTheme, GlobalStyle, readTheme } from './shell/theme';

applyTheme(readTheme());

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
