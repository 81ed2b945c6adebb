import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

/** Tests that change what others load: a step that is mocked, a database, a page. */
const ALONE = [
  'src/store/**/*.test.ts',
  'src/ui/**/*.test.{ts,tsx}',
  'src/workers/attend.test.ts',
  'tests/planted-loss.test.ts',
];
const NEVER = ['tests/e2e/**', 'node_modules/**'];

export default defineConfig({
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  test: {
    // One fewer by default, which on two cores is one.
    maxWorkers: availableParallelism(),
    setupFiles: ['tests/helpers/properties.ts'],
    // Long ones share two cores with others.
    testTimeout: 180_000,
    hookTimeout: 180_000,
    projects: [
      {
        extends: true,
        test: {
          name: 'core',
          include: ['src/**/*.test.{ts,tsx}', 'tests/**/*.test.ts'],
          exclude: [...NEVER, ...ALONE],
          // What a file loads the next one has loaded: nothing in the core keeps a state.
          isolate: false,
        },
      },
      { extends: true, test: { name: 'alone', include: ALONE, exclude: NEVER } },
    ],
  },
});
