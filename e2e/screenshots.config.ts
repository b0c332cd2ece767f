import { defineConfig } from '@playwright/test';
import config from './playwright.config.ts';

/** The same server and browser as the journeys, drawing docs/screenshots. */
export default defineConfig(config, { testDir: 'screenshots' });
