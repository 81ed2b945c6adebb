import { defineConfig } from '@playwright/test';
import { CHROMIUM_ARGUMENTS } from './scripts/tools.mjs';

const port = 4702;

export default defineConfig({
  testDir: 'tests/e2e',
  timeout: 180_000,
  // Slow machines draw late; what is right stays right.
  expect: { timeout: 15_000 },
  workers: 1,
  reporter: process.env.PLAYWRIGHT_JSON_OUTPUT_NAME ? [['list'], ['json']] : 'list',
  use: {
    actionTimeout: 60_000,
    baseURL: `http://localhost:${port}`,
    viewport: { width: 1280, height: 800 },
    // A dialog that is still growing can slip from under a press.
    contextOptions: { reducedMotion: 'reduce' },
    launchOptions: {
      executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
      args: CHROMIUM_ARGUMENTS,
    },
  },
  webServer: {
    command: 'node scripts/serve.mjs',
    env: { PORT: String(port) },
    url: `http://localhost:${port}`,
    reuseExistingServer: false,
  },
});
