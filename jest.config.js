const node = (displayName, folder, more = {}) => ({
  displayName,
  rootDir: __dirname,
  testEnvironment: 'node',
  testMatch: [`<rootDir>/tests/${folder}/**/*.test.ts`],
  transform: { '\\.[jt]sx?$': '<rootDir>/scripts/jest-esbuild.cjs', '\\.mjs$': '<rootDir>/scripts/jest-esbuild.cjs' },
  transformIgnorePatterns: [
    '/node_modules/(?!(nanoid|fractional-indexing|flatbush|flatqueue|fflate|fast-png|iobuffer|idb|@noble|@stdlib)/)',
  ],
  ...more,
});

module.exports = {
  // Nothing is timed by its test: a busy machine takes longer for the same.
  testTimeout: 30000,
  projects: [
    node('core', 'core'),
    node('server', 'server'),
    node('ui-logic', 'ui'),
    {
      displayName: 'ui',
      preset: 'jest-expo/web',
      transform: { ...require('jest-expo/web/jest-preset').transform, '\\.mjs$': 'babel-jest' },
      rootDir: __dirname,
      testMatch: ['<rootDir>/tests/ui/**/*.test.tsx'],
      transformIgnorePatterns: [
        '/node_modules/(?!((jest-)?react-native(-[a-z-]+)?|@react-native(-community)?|expo(nent)?|@expo(nent)?/.*|@expo-google-fonts/.*|react-navigation|@react-navigation/.*|react-redux|@reduxjs/toolkit|immer|reselect|redux|lucide-react-native|nanoid|fractional-indexing|idb|flatbush|flatqueue)/)',
      ],
    },
    node('browser', 'browser'),
  ],
};
