/** Unit and integration tests; the browser tests have their own project so that they can run last and alone. */
const common = {
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  transform: {
    '^.+\\.tsx?$': [
      '@swc/jest',
      {
        module: { type: 'es6' },
        jsc: {
          target: 'es2022',
          parser: { syntax: 'typescript', tsx: true },
          transform: { react: { runtime: 'automatic' } },
        },
      },
    ],
  },
  testEnvironment: 'node',
};

export default {
  projects: [
    {
      ...common,
      displayName: 'unit',
      testMatch: ['<rootDir>/{core,contract,server,collector,bench,web}/test/unit/**/*.test.ts'],
    },
    {
      ...common,
      displayName: 'integration',
      testMatch: ['<rootDir>/{server,collector,bench}/test/integration/**/*.test.ts'],
    },
    { ...common, displayName: 'browser', testMatch: ['<rootDir>/e2e/test/**/*.test.ts'] },
  ],
};
