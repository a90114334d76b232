import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['{core,contract,bench,server,web,scripts}/**/*.test.{ts,tsx}'],
    exclude: ['**/node_modules/**', '**/.types/**'],
    globalSetup: 'scripts/testDatabase.mjs',
    setupFiles: ['scripts/testPatience.ts'],
    // No test asserts how fast the computer is; these are bounds for one that is busy with other things.
    maxWorkers: 2,
    testTimeout: 120_000,
    hookTimeout: 120_000,
  },
});
