import { readdirSync } from 'node:fs';
import astro from 'eslint-plugin-astro';
import boundaries from 'eslint-plugin-boundaries';
import tseslint from 'typescript-eslint';

const rooms = readdirSync('src', { withFileTypes: true })
  .filter((entry) => entry.isDirectory())
  .map((entry) => ({ type: entry.name, pattern: `src/${entry.name}`, mode: 'folder' }));

/** Who may import whom; docs/architecture.md says why. */
const mayImport = {
  core: ['core'],
  ui: ['ui', 'core'],
  sound: ['sound', 'core'],
  views: ['views', 'ui', 'sound', 'core', 'styles'],
  server: ['server', 'core'],
  cli: ['cli', 'server', 'core'],
  pages: ['pages', 'views', 'server', 'core', 'styles'],
};

export default tseslint.config(
  { ignores: ['dist', 'data', '.astro', 'node_modules', 'test-results', 'playwright-report'] },
  ...tseslint.configs.strict,
  ...astro.configs.recommended,
  {
    files: ['src/**/*.{ts,tsx,astro}'],
    plugins: { boundaries },
    settings: {
      'import/resolver': { typescript: { alwaysTryTypes: true } },
      'boundaries/elements': rooms,
      'boundaries/include': ['src/**/*'],
    },
    rules: {
      'boundaries/element-types': [
        'error',
        {
          default: 'disallow',
          rules: [
            ...Object.entries(mayImport).map(([from, allow]) => ({ from: [from], allow })),
            // A view may know the shapes the server answers with, never its code.
            { from: ['views'], allow: ['server'], importKind: 'type' },
          ],
        },
      ],
    },
  },
  {
    files: ['src/core/**/*.ts'],
    rules: {
      'no-restricted-properties': [
        'error',
        { object: 'Date', property: 'now', message: 'Core has no clock: pass the time in.' },
        { object: 'Math', property: 'random', message: 'Core has no random source: pass a seed in.' },
      ],
      'no-restricted-globals': ['error', 'window', 'document', 'process', 'Buffer', 'fetch', 'performance'],
      'no-restricted-imports': ['error', { patterns: ['node:*', 'react*', 'drizzle-orm*', 'pg', 'astro*'] }],
    },
  },
  {
    files: ['**/*.{ts,tsx,mjs}'],
    rules: {
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }],
      '@typescript-eslint/consistent-type-imports': 'error',
      'prefer-const': 'error',
      eqeqeq: ['error', 'always', { null: 'ignore' }],
    },
  },
);
