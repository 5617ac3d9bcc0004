import { readdirSync } from 'node:fs';
import astro from 'eslint-plugin-astro';
import boundaries from 'eslint-plugin-boundaries';
import reactHooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

/** Of the views, the frame is above the screens, which know nothing of each other and share what is below them. */
const viewRooms = [
  { type: 'views/app', pattern: 'src/views/app' },
  { type: 'views/shared', pattern: 'src/views/shared' },
  { type: 'views/api', pattern: 'src/views/api' },
  { type: 'screen', pattern: 'src/views/*' },
];

const rooms = [
  ...viewRooms,
  ...readdirSync('src', { withFileTypes: true })
    .filter((entry) => entry.isDirectory() && entry.name !== 'views')
    .map((entry) => ({ type: entry.name, pattern: `src/${entry.name}` })),
];

/** Who may import whom; docs/architecture.md says why. */
const mayImport = {
  core: ['core'],
  requests: ['requests', 'core'],
  ui: ['ui', 'core'],
  sound: ['sound', 'core'],
  devices: ['devices', 'sound', 'core'],
  'views/api': ['views/api', 'requests', 'ui', 'devices', 'core'],
  'views/shared': ['views/shared', 'views/api', 'requests', 'ui', 'devices', 'sound', 'core'],
  screen: ['views/shared', 'views/api', 'requests', 'ui', 'devices', 'sound', 'core', 'styles'],
  'views/app': [
    'views/app',
    'screen',
    'views/shared',
    'views/api',
    'requests',
    'ui',
    'devices',
    'sound',
    'core',
    'styles',
  ],
  server: ['server', 'core'],
  cli: ['cli', 'server', 'core'],
  pages: ['pages', 'views/app', 'server', 'requests', 'core', 'styles'],
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
      'boundaries/dependencies': [
        'error',
        {
          default: 'disallow',
          policies: [
            ...Object.entries(mayImport).map(([from, to]) => ({
              from: { element: { type: from } },
              allow: [{ to: { element: { type: to } } }],
            })),
            // A view may know the shapes the server answers with, never its code.
            ...viewRooms.map(({ type }) => ({
              from: { element: { type } },
              allow: [{ to: { element: { type: 'server' } }, dependency: { kind: 'type' } }],
            })),
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
    files: ['src/**/*.tsx', 'src/**/*.ts'],
    plugins: { 'react-hooks': reactHooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
  },
  {
    files: ['**/*.{ts,tsx,mjs}'],
    rules: {
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_', ignoreRestSiblings: true },
      ],
      '@typescript-eslint/consistent-type-imports': 'error',
      'prefer-const': 'error',
      eqeqeq: ['error', 'always', { null: 'ignore' }],
    },
  },
);
