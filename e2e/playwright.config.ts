import { defineConfig } from '@playwright/test';

export default defineConfig({
  testDir: '.',
  // A journey through several pages, a restart and a second device: on a slow machine it takes its time.
  timeout: 240_000,
  expect: { timeout: 60_000 },
  workers: 2,
  fullyParallel: false,
  forbidOnly: true,
  outputDir: '../test-results',
  reporter: [['list'], ['json']],
  use: {
    viewport: { width: 1280, height: 800 },
    // Each new device would fetch and keep the whole app first: those that go offline do, and ask for it.
    serviceWorkers: 'block',
    launchOptions: {
      executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-background-networking',
        '--disable-component-update',
      ],
    },
  },
});
