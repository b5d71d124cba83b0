const shared = {
  testEnvironment: 'node',
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  transform: {
    '^.+\\.tsx?$': [
      '@swc/jest',
      {
        jsc: {
          experimental: { keepImportAttributes: true },
          target: 'es2022',
          parser: { syntax: 'typescript', tsx: true },
          transform: { react: { runtime: 'automatic' } },
        },
        module: { type: 'es6' },
      },
    ],
  },
};

/** `unit` needs nothing but Node; `server` needs the PostgreSQL that `npm test` starts and names in TEST_DATABASE_URL. */
export default {
  // A busy machine is slow, not wrong.
  testTimeout: 30_000,
  // Jest alone would leave a core of two unused.
  maxWorkers: '100%',
  projects: [
    {
      ...shared,
      displayName: 'unit',
      testMatch: ['<rootDir>/{core,contract,demo,web,scripts}/**/*.test.ts'],
    },
    {
      ...shared,
      displayName: 'server',
      testMatch: ['<rootDir>/server/**/*.test.ts', '<rootDir>/e2e/**/*.jest.ts'],
    },
  ],
};
