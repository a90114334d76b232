import { defineConfig } from 'vitest/config';

const include = (folders: string) => [`${folders}/**/*.test.{ts,tsx}`];
const exclude = ['**/node_modules/**', '**/.types/**'];

export default defineConfig({
  test: {
    // No test asserts how fast the computer is; these are bounds for one that is busy with other things.
    maxWorkers: 2,
    testTimeout: 120_000,
    hookTimeout: 120_000,
    projects: [
      {
        extends: true,
        test: {
          name: 'computation',
          include: include('{core,contract}'),
          exclude,
          setupFiles: ['scripts/testPatience.ts'],
          // Pure functions leave nothing behind for one another.
          isolate: false,
          pool: 'threads',
        },
      },
      {
        extends: true,
        test: {
          name: 'views',
          include: include('web'),
          exclude,
          setupFiles: ['scripts/testPatience.ts', 'web/test/alone.ts'],
          environment: 'jsdom',
          isolate: false,
        },
      },
      {
        extends: true,
        test: {
          name: 'rest',
          globalSetup: 'scripts/testDatabase.mjs',
          include: include('{bench,server,scripts}'),
          exclude,
          setupFiles: ['scripts/testPatience.ts'],
        },
      },
    ],
  },
});
