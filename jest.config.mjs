export default {
  testEnvironment: 'node',
  roots: ['<rootDir>/src', '<rootDir>/cli', '<rootDir>/server', '<rootDir>/demo'],
  testMatch: ['**/*.test.ts', '**/*.test.tsx'],
  transform: {
    '^.+\\.(t|j|mj)sx?$': ['@swc/jest', { jsc: { parser: { syntax: 'typescript', tsx: true }, target: 'es2022', transform: { react: { runtime: 'automatic' } } } }],
  },
  // Packages that ship ES modules only.
  transformIgnorePatterns: ['/node_modules/(?!(@noble|fflate|d3-.*|internmap)/)'],
}
