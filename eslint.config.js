import js from '@eslint/js';
import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

/** The arrows between packages: who may not be imported from where. The build fails on them, not the reviewer. */
const never = (files, packages, why) => ({
  files,
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: packages.map((name) => ({
          regex: name.startsWith('^') ? name : `^(@ulkret/${name}(/|$)|(\\.\\./)+${name}/)`,
          message: why,
        })),
      },
    ],
  },
});

const outsideTheCore = ['^react', '^express', '^drizzle-orm', '^pg$', '^node:', '^swr', '^styled-components'];

export default tseslint.config(
  { ignores: ['**/node_modules', '**/dist', '.data', 'test-results', 'docs'] },
  js.configs.recommended,
  ...tseslint.configs.strict,
  {
    rules: {
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', ignoreRestSiblings: true }],
    },
  },
  never(
    ['core/**/*.ts'],
    ['web', 'server', 'contract', 'demo', ...outsideTheCore],
    'The core is pure: it imports no other package of ours, no platform and no framework.',
  ),
  never(['contract/**/*.ts'], ['web', 'server', 'demo'], 'The contract stands on the core alone.'),
  never(['demo/**/*.ts'], ['web', 'server', 'contract'], 'The demo academy is made from the core alone.'),
  never(
    ['server/**/*.ts'],
    ['web', 'demo'],
    'The server knows no interface and no demo; scripts hand it what it loads.',
  ),
  never(['server/routes/**/*.ts'], ['^drizzle-orm', '^pg$'], 'A route holds no SQL: put the query in db/.'),
  never(
    ['web/**/*.{ts,tsx}'],
    ['server', 'demo', '^node:'],
    'The web speaks to the server through the contract.',
  ),
  {
    files: ['core/**/*.ts'],
    ignores: ['core/**/*.test.ts'],
    rules: {
      'no-restricted-properties': [
        'error',
        { object: 'Date', property: 'now', message: 'The core has no clock: pass the time in.' },
        { object: 'Math', property: 'random', message: 'The core has no chance of its own: pass a seed in.' },
      ],
      'no-restricted-syntax': [
        'error',
        {
          selector: 'NewExpression[callee.name="Date"][arguments.length=0]',
          message: 'The core has no clock: pass the time in.',
        },
      ],
    },
  },
  { files: ['web/**/*.{ts,tsx}'], plugins: { 'react-hooks': hooks }, rules: hooks.configs.recommended.rules },
  { files: ['scripts/*.mjs'], languageOptions: { globals: { process: 'readonly', console: 'readonly' } } },
);
