import next from 'eslint-config-next';
import tseslint from 'typescript-eslint';

/** The arrows of docs/architecture.md: which folder may import which. */
const closed = (files, forbidden, message, allowTypeImports = false) => ({
  files,
  ignores: ['**/*.test.ts', '**/*.test.tsx'],
  rules: {
    '@typescript-eslint/no-restricted-imports': [
      'error',
      { patterns: [{ regex: forbidden, message, allowTypeImports }] },
    ],
  },
});
const folder = (names) => `^(@/|(\\.\\./)+)(${names})(/|$)`;

export default tseslint.config(
  {
    ignores: [
      '.next/**',
      '.data/**',
      'node_modules/**',
      'src/demo/assets/**',
      'src/demo/seed/**',
      'tests/fixtures/**',
      'next-env.d.ts',
    ],
  },
  ...next,
  ...tseslint.configs.strict,
  {
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/consistent-type-imports': 'error',
      'no-console': 'error',
      eqeqeq: 'error',
    },
  },
  {
    files: ['src/**'],
    ignores: ['**/*.test.ts', '**/*.test.tsx'],
    rules: { 'max-lines-per-function': ['error', { max: 80, skipBlankLines: false, skipComments: false }] },
  },
  closed(
    ['src/core/**'],
    `${folder('engine|store|app|ui|cli|demo')}|^node:|^(fs|path|net|http|http2|https|tls|child_process|worker_threads|os)$|^(react|next|@mui|@emotion|puppeteer-core|sharp)(/|$|-)`,
    'core is pure computation: no interface, store, engine or Node I/O.',
  ),
  closed(
    ['src/store/**'],
    `${folder('engine|app|ui|cli|demo')}|^(react|next|@mui)(/|$)`,
    'store keeps; it does not observe or show.',
  ),
  {
    files: ['src/in-page/**'],
    rules: {
      '@typescript-eslint/no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              regex: `${folder('engine|store|app|ui|cli|demo|usecases')}|^[^.]`,
              message: 'What runs in captured pages brings along all it needs.',
            },
            {
              regex: folder('core'),
              message: 'What runs in captured pages shares types of core only.',
              allowTypeImports: true,
            },
          ],
        },
      ],
    },
  },
  closed(
    ['src/engine/**'],
    `${folder('store|app|ui|cli|demo')}|^(react|next|@mui)(/|$)`,
    'engine observes; it does not store or show.',
  ),
  {
    files: ['src/ui/**'],
    rules: {
      // Stored pictures come from the application's own route, at their own size: there is nothing to optimise.
      '@next/next/no-img-element': 'off',
    },
  },
  closed(
    ['src/ui/**'],
    `${folder('engine|store|cli|demo')}|^node:`,
    'ui reaches the server through its routes only (types may be shared).',
    true,
  ),
  { files: ['src/cli/**', 'src/demo/**', 'bench/**', 'tests/**'], rules: { 'no-console': 'off' } },
);
