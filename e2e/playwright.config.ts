import { defineConfig } from '@playwright/test';

/** Debian's Chromium; the switches keep it from calling home. */
export const chromium = {
  executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
  args: [
    ...(process.getuid?.() === 0 ? ['--no-sandbox'] : []),
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
  ],
};

export default defineConfig({
  testDir: 'journeys',
  globalSetup: './setup.ts',
  fullyParallel: true,
  workers: 2,
  // The walks with axe look at a dozen screens in two themes.
  timeout: 480_000,
  // A machine that builds something else beside draws a page slowly.
  expect: { timeout: 60_000 },
  forbidOnly: process.env.CI !== undefined,
  reporter: 'list',
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions: chromium,
    // Long before the journey's own end: a step that stands still is named.
    actionTimeout: 120_000,
    navigationTimeout: 120_000,
    screenshot: 'only-on-failure',
    // The calls and their log. With pictures and snapshots of every step a run takes three times as long: TRACE=on.
    trace: {
      mode: 'retain-on-failure',
      screenshots: process.env.TRACE === 'on',
      snapshots: process.env.TRACE === 'on',
    },
  },
});
