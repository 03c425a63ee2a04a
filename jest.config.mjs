export default {
  testEnvironment: 'node',
  // Tests run in a context of their own, in which looking up a global is slow; as an argument it is not.
  sandboxInjectedGlobals: ['Math'],
  // Jest leaves one core free otherwise.
  maxWorkers: '100%',
  // Other work on the machine may slow a test down.
  testTimeout: 30_000,
  roots: [
    '<rootDir>/src',
    '<rootDir>/cli',
    '<rootDir>/server',
    '<rootDir>/demo',
    '<rootDir>/bench',
    '<rootDir>/scripts',
  ],
  setupFiles: ['<rootDir>/jest.setup.mjs'],
  testMatch: ['**/*.test.ts', '**/*.test.tsx'],
  transform: {
    '^.+\\.(t|j|mj)sx?$': [
      '@swc/jest',
      {
        jsc: {
          parser: { syntax: 'typescript', tsx: true },
          target: 'es2022',
          transform: { react: { runtime: 'automatic' } },
        },
      },
    ],
  },
  moduleNameMapper: { '\\?worker&url$': '<rootDir>/src/engine/playback/worker-url.test-util.ts' },
  // Packages that ship ES modules only.
  transformIgnorePatterns: ['/node_modules/(?!(@noble|@zip.js|fflate|d3-.*|internmap)/)'],
}
