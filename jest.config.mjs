/** Three kinds of tests: of one package, of packages on a real database and real protocols, of the whole in real processes and Chromium. */
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
  // What suites leave behind in a worker's memory slows those after them down.
  workerIdleMemoryLimit: '1GB',
  testSequencer: '<rootDir>/launch/testOrder.mjs',
  projects: [
    {
      ...common,
      displayName: 'unit',
      testMatch: ['<rootDir>/{core,contract,server,collector,bench,web}/test/unit/**/*.test.ts?(x)'],
      setupFiles: ['<rootDir>/web/test/textCoders.mjs'],
    },
    {
      ...common,
      displayName: 'integration',
      moduleNameMapper: { '^hexy$': '<rootDir>/collector/test/hexy.cjs' },
      testMatch: ['<rootDir>/{server,collector,bench}/test/integration/**/*.test.ts'],
    },
    { ...common, displayName: 'whole', testMatch: ['<rootDir>/e2e/test/**/*.test.ts'] },
  ],
};
