import { defineConfig } from '@playwright/test';

export default defineConfig({
  testDir: '.',
  timeout: 60_000,
  expect: { timeout: 10_000 },
  workers: 2,
  fullyParallel: false,
  forbidOnly: true,
  outputDir: '../test-results',
  reporter: [['list'], ['json']],
  use: {
    viewport: { width: 1280, height: 800 },
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
