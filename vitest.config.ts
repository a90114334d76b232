import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['{core,contract,bench,server,web,scripts}/**/*.test.{ts,tsx}'],
    exclude: ['**/node_modules/**', '**/.types/**'],
    globalSetup: 'scripts/testDatabase.mjs',
    testTimeout: 20_000,
  },
});
