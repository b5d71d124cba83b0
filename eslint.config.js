import js from '@eslint/js';
import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';
import { plainWords } from './plain-words.js';

/** Functions over the limit, each with its reason. Nothing joins this list. */
const stillLong = [
  // Recipes, read from top to bottom: a command's steps, or what the demo tells.
  ...['bench', 'bench-pressure', 'postgres', 'start', 'storm'].map((name) => `scripts/${name}.ts`),
  ...['academy', 'simulate'].map((name) => `demo/${name}.ts`),
  'server/test/fuzz.ts',
  // One pass over typed arrays: as several functions it would read them several times.
  ...['mode', 'posterior', 'trials'].map((name) => `core/hazard/${name}.ts`),
  // Hooks whose effects share their refs, and must keep their order.
  ...['correct/use-tonight', 'library/write/use-draft', 'mat/setup/use-set-up'].map(
    (name) => `web/${name}.ts`,
  ),
];
const tests = ['**/*.test.{ts,tsx}', '**/*.jest.ts', 'e2e/**'];
const atMost = (max) => ({ 'max-lines-per-function': ['error', { max, IIFEs: true }] });

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
  {
    ignores: ['plain-words.js'],
    plugins: { house: { rules: { 'plain-words': plainWords } } },
    rules: { 'house/plain-words': 'error' },
  },
  { files: ['**/*.ts'], ignores: [...tests, ...stillLong], rules: atMost(80) },
  { files: ['**/*.tsx'], ignores: [...tests, ...stillLong], rules: atMost(100) },
  { files: ['web/**/*.{ts,tsx}'], plugins: { 'react-hooks': hooks }, rules: hooks.configs.recommended.rules },
  { files: ['scripts/*.mjs'], languageOptions: { globals: { process: 'readonly', console: 'readonly' } } },
);
