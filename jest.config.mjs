import { availableParallelism } from 'node:os';

/**
 * One project a workspace, run as native ES modules. The core is tested on its sources; the server as it is built,
 * since it starts threads and processes of its own.
 */
const common = {
  testEnvironment: 'node',
  extensionsToTreatAsEsm: ['.ts'],
  transform: {
    '^.+\\.ts$': [
      '@swc/jest',
      { jsc: { parser: { syntax: 'typescript' }, target: 'es2022' }, module: { type: 'es6' } },
    ],
  },
};
const relative = { '^(\\.{1,2}/.*)\\.js$': ['$1.ts', '$1.js'] };

const workspace = (name, moduleNameMapper = relative) => ({
  ...common,
  moduleNameMapper,
  displayName: name,
  testMatch: [`<rootDir>/${name}/test/**/*.test.ts`],
});

export default {
  // A machine may be many times slower than another; a test that hangs is found all the same.
  testTimeout: 120_000,
  // Tests wait for others a third of their time: for mail servers, for time to pass.
  maxWorkers: Math.ceil(1.5 * availableParallelism()),
  projects: [
    workspace('core', { ...relative, '^@kiraku/core/(.*)$': '<rootDir>/core/src/$1/index.ts' }),
    {
      ...workspace('server', {
        '^@kiraku/(server|core)/(.*)$': '<rootDir>/server/dist/tested/stubs/$1/$2.js',
        '^\\./apiSchemas\\.js$': '<rootDir>/server/dist/tested/stubs/test/apiSchemas.js',
        ...relative,
      }),
      testEnvironment: '<rootDir>/server/test/environment.mjs',
      globalSetup: '<rootDir>/server/test/globalSetup.mjs',
      globalTeardown: '<rootDir>/server/test/globalTeardown.mjs',
    },
    {
      ...workspace('web'),
      testEnvironment: '<rootDir>/web/test/environment.mjs',
      extensionsToTreatAsEsm: ['.ts', '.tsx'],
      testMatch: ['<rootDir>/web/test/**/*.test.{ts,tsx}'],
      transform: {
        '^.+\\.tsx?$': [
          '@swc/jest',
          {
            jsc: {
              parser: { syntax: 'typescript', tsx: true },
              target: 'es2022',
              transform: { react: { runtime: 'automatic' } },
            },
            module: { type: 'es6' },
          },
        ],
      },
      moduleNameMapper: {
        '\\.css$': '<rootDir>/web/test/noStyle.mjs',
        // As a browser gets it.
        '^tus-js-client$': '<rootDir>/node_modules/tus-js-client/lib.es5/browser/index.js',
        '^(\\.{1,2}/.*)\\.js$': ['$1.ts', '$1.tsx', '$1.js'],
      },
    },
    workspace('standin'),
    workspace('demo'),
  ],
};
