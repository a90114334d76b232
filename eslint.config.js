import js from '@eslint/js';
import globals from 'globals';
import hooks from 'eslint-plugin-react-hooks';
import ts from 'typescript-eslint';

/** The arrows of the house: each folder may import only what stands here. */
const forbidden = {
  core: ['@kavrid/*', 'react*', 'node:*', 'express', 'typeorm'],
  contract: ['@kavrid/bench*', '@kavrid/server*', '@kavrid/web*', 'react*', 'node:*', 'express', 'typeorm'],
  bench: ['@kavrid/contract*', '@kavrid/server*', '@kavrid/web*', 'react*'],
  server: ['@kavrid/bench*', '@kavrid/web*', 'react*'],
  web: ['@kavrid/bench*', '@kavrid/server*', 'express', 'typeorm', 'node:*'],
};

const arrows = Object.entries(forbidden).map(([folder, group]) => ({
  files: [`${folder}/**/*.{ts,tsx}`],
  ignores: ['**/*.test.{ts,tsx}', '**/test/**', 'web/vite.config.ts'],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: [
          { group, message: `${folder}/ may not depend on this; see the arrows in docs/architecture.md.` },
          ...(folder === 'core'
            ? [
                {
                  regex: '^\\.\\./[a-z]+/(?!index\\.ts$)',
                  message: 'Import a room through its index.ts, its public face.',
                },
              ]
            : []),
        ],
      },
    ],
  },
}));

export default ts.config(
  { ignores: ['**/dist/**', 'web/dist.*/**', '**/.types/**', 'var/**', '**/node_modules/**'] },
  js.configs.recommended,
  ...ts.configs.strict,
  {
    languageOptions: { globals: { ...globals.node } },
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/no-non-null-assertion': 'error',
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-invalid-void-type': 'off',
      eqeqeq: ['error', 'always', { null: 'ignore' }],
      'no-restricted-syntax': ['error', { selector: 'ExportDefaultDeclaration', message: 'Named exports only.' }],
    },
  },
  {
    files: ['web/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks },
    languageOptions: { globals: { ...globals.browser } },
    rules: { ...hooks.configs.recommended.rules },
  },
  { files: ['scripts/benchmark/browser.mjs'], languageOptions: { globals: { ...globals.browser } } },
  { files: ['**/*.config.{ts,js,mjs}'], rules: { 'no-restricted-syntax': 'off' } },
  ...arrows,
);
