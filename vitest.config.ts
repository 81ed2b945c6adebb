import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  test: {
    // One fewer by default, which on two cores is one.
    maxWorkers: availableParallelism(),
    // What a file loads the next one has loaded: nothing in the core keeps a state.
    isolate: false,
    include: ['src/**/*.test.{ts,tsx}', 'tests/**/*.test.ts'],
    exclude: ['tests/e2e/**', 'node_modules/**'],
    setupFiles: ['tests/helpers/properties.ts'],
    // Long ones share two cores with others.
    testTimeout: 180_000,
    hookTimeout: 180_000,
  },
});
