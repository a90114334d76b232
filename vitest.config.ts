import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['{core,contract,bench,server,web,scripts}/**/*.test.{ts,tsx}'],
    exclude: ['**/node_modules/**', '**/.types/**'],
    globalSetup: 'scripts/testDatabase.mjs',
    // Some tests are about time: they are not to compete for two cores.
    fileParallelism: false,
    testTimeout: 40_000,
  },
});
