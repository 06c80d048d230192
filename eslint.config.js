import js from '@eslint/js'
import tseslint from 'typescript-eslint'

export default tseslint.config(
  { ignores: ['.cache/', 'dist/', 'examples/*/dist/', 'node_modules/'] },
  js.configs.recommended,
  ...tseslint.configs.strict,
  {
    rules: {
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-non-null-assertion': 'error',
      eqeqeq: ['error', 'always', { null: 'ignore' }],
      '@typescript-eslint/no-unused-vars': ['error', { varsIgnorePattern: '^_', argsIgnorePattern: '^_' }],
      'no-console': 'error',
    },
  },
  { files: ['test/**'], rules: { '@typescript-eslint/no-unused-expressions': 'off' } },
  {
    files: ['scripts/**', 'bench/**', 'bin/**', '*.cjs', '**/.*.cjs'],
    languageOptions: {
      globals: {
        module: 'readonly',
        process: 'readonly',
        performance: 'readonly',
        Buffer: 'readonly',
        console: 'readonly',
        URL: 'readonly',
        fetch: 'readonly',
        document: 'readonly',
      },
    },
    rules: { 'no-console': 'off' },
  },
)
