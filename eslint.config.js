import js from '@eslint/js';
import { createNodeResolver, importX } from 'eslint-plugin-import-x';
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

/** The layers of the web, from what a person sees down to the kit. An arrow only points down; places do not know each other. */
const places = ['today', 'correct', 'library', 'mat', 'readings', 'people', 'data', 'house'];
const layers = [['app'], places, ['strand'], ['reader'], ['device'], ['api'], ['ui']];
const upwards = layers
  .flatMap((layer, height) =>
    layer.map((folder) => ({
      target: `./web/${folder}`,
      from: [...layers.slice(0, height).flat(), ...layer.filter((other) => other !== folder)].map(
        (other) => `./web/${other}`,
      ),
      message: 'An arrow only points down: app, places, strand, reader, device, api, ui.',
    })),
  )
  .filter(({ from }) => from.length > 0);

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
  never(
    ['server/*/routes.ts'],
    ['^drizzle-orm', '^pg$'],
    'A route holds no SQL: put the query in a file beside it.',
  ),
  never(
    ['web/**/*.{ts,tsx}'],
    ['server', 'demo', '^node:'],
    'The web speaks to the server through the contract.',
  ),
  never(
    // The Mat's knots and tiles paint in the frame of the tap: they are its own.
    [`web/{${['app', ...places, 'strand'].filter((name) => name !== 'mat').join(',')}}/**/*.tsx`],
    ['server', 'demo', '^node:', '^react-aria-components'],
    'The web speaks to the server through the contract, and its controls come from the kit (web/ui).',
  ),
  {
    files: ['**/*.{ts,tsx}'],
    plugins: { 'import-x': importX },
    settings: {
      'import-x/resolver-next': [createNodeResolver({ extensions: ['.ts', '.tsx'] })],
      'import-x/parsers': { '@typescript-eslint/parser': ['.ts', '.tsx'] },
      'import-x/extensions': ['.ts', '.tsx'],
    },
    rules: {
      'import-x/no-restricted-paths': ['error', { zones: upwards }],
      'import-x/no-cycle': ['error', { ignoreExternal: true }],
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
  { files: ['web/**/*.{ts,tsx}'], plugins: { 'react-hooks': hooks }, rules: hooks.configs.recommended.rules },
  { files: ['scripts/*.mjs'], languageOptions: { globals: { process: 'readonly', console: 'readonly' } } },
);
