import { cpSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { test as base, chromium, expect } from '@playwright/test';
import config from '../../playwright.config';
import { engraved, keptRows, openShelf } from './helpers';

export { expect };

/** Visits after which the browser keeps scripts and programs as it compiled them. */
const VISITS = 3;

const folder = () => mkdtempSync(join(tmpdir(), 'dragoman-visit-'));
const { baseURL = '', viewport = null, launchOptions } = config.use ?? {};

/**
 * Each test is a visit of its own of somebody who was here before: the browser has the scripts compiled and the demo jobs on
 * the shelf, and nothing else. What a test does is gone after it.
 */
export const test = base.extend<object, { profile: string }>({
  profile: [
    // biome-ignore lint/correctness/noEmptyPattern: how fixtures are told that they need none
    async ({}, use) => {
      const profile = folder();
      for (let visit = 0; visit < VISITS; visit++) {
        const context = await chromium.launchPersistentContext(profile, {
          ...launchOptions,
          baseURL,
          viewport,
        });
        const page = context.pages()[0] ?? (await context.newPage());
        await openShelf(page);
        for (const [before, job] of ['demo', 'demo-untidy'].entries()) {
          await page.goto(`/job/${job}/notes`);
          await engraved(page);
          // What was worked out is kept when nothing else is to be done.
          const results = () => keptRows(page, 'results');
          await expect.poll(results, { timeout: 30_000 }).toBeGreaterThan(before);
        }
        await expect.poll(() => keptRows(page, 'pictures'), { timeout: 30_000 }).toBeGreaterThan(0);
        await context.close();
      }
      await use(profile);
      rmSync(profile, { recursive: true, force: true });
    },
    { scope: 'worker', timeout: 180_000 },
  ],
  context: async ({ profile, actionTimeout, contextOptions, deviceScaleFactor }, use) => {
    const own = folder();
    cpSync(profile, own, { recursive: true });
    const context = await chromium.launchPersistentContext(own, {
      ...contextOptions,
      ...launchOptions,
      baseURL,
      viewport,
      deviceScaleFactor,
    });
    context.setDefaultTimeout(actionTimeout ?? 0);
    await use(context);
    await context.close();
    rmSync(own, { recursive: true, force: true });
  },
  page: async ({ context }, use) => {
    await use(context.pages()[0] ?? (await context.newPage()));
  },
});
