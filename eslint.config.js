const expo = require('eslint-config-expo/flat');

module.exports = [
  ...expo,
  { ignores: ['node_modules/**', 'dist/**', 'build/**', 'data/**', 'shots/**', '.expo/**', 'public/workers/**'] },
  {
    files: ['**/*.ts', '**/*.tsx'],
    rules: {
      'max-lines': ['error', { max: 520, skipBlankLines: true, skipComments: true }],
      'no-console': ['error', { allow: ['error'] }],
      eqeqeq: 'error',
    },
  },
  { files: ['server/main.ts', 'scripts/**', 'demo/**', 'bench/**'], rules: { 'no-console': 'off' } },
  {
    files: ['*.js', '*.cjs', 'scripts/*.cjs'],
    languageOptions: { globals: { __dirname: 'readonly', module: 'writable', require: 'readonly' } },
  },
  // Old script on purpose.
  { files: ['public/too-old.js'], rules: { 'no-var': 'off' } },
  { files: ['**/*.d.ts'], rules: { '@typescript-eslint/no-unused-vars': 'off' } },
  { files: ['scripts/**/*.mjs'], languageOptions: { globals: { process: 'readonly', console: 'readonly' } } },
];
