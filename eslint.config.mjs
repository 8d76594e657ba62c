import astro from 'eslint-plugin-astro';
import hooks from 'eslint-plugin-react-hooks';
import regexp from 'eslint-plugin-regexp';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  { ignores: ['node_modules', 'dist', '.astro', '.venv', 'demo-data', 'data', 'test-results', '.fuzz-*', 'scripts', '*.config.*', '*.cjs'] },
  ...tseslint.configs.recommendedTypeChecked.map((config) => ({ ...config, files: ['**/*.ts', '**/*.tsx'] })),
  {
    files: ['**/*.ts', '**/*.tsx'],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/consistent-type-imports': [
        'error',
        { fixStyle: 'inline-type-imports', prefer: 'type-imports', disallowTypeAnnotations: false },
      ],
      '@typescript-eslint/restrict-template-expressions': 'off',
      '@typescript-eslint/switch-exhaustiveness-check': ['error', { considerDefaultExhaustiveForUnions: true }],
      'max-lines': ['error', { max: 400, skipBlankLines: true, skipComments: true }],
    },
  },
  {
    files: ['src/**/*.ts', 'src/**/*.tsx'],
    plugins: { regexp },
    rules: {
      // No expression over foreign text takes more than time in proportion to it.
      'regexp/no-super-linear-backtracking': ['error', { report: 'potential' }],
      'regexp/no-super-linear-move': ['error', { report: 'potential', ignoreSticky: false, ignorePartial: false }],
    },
  },
  {
    files: ['src/islands/**/*.ts', 'src/islands/**/*.tsx'],
    plugins: { 'react-hooks': hooks },
    rules: { 'react-hooks/rules-of-hooks': 'error' },
  },
  {
    files: ['src/islands/**/*.tsx'],
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector: 'JSXAttribute[name.name=/^styles?$/] > JSXExpressionContainer > ObjectExpression Property > Literal.value',
          message: 'A constant style is a class of the stylesheet.',
        },
      ],
    },
  },
  // Types of tests are checked by the compiler: what lint asks of them beside that takes a third of its time.
  { files: ['tests/**/*.ts', '**/*.test.ts'], ...tseslint.configs.disableTypeChecked },
  { files: ['tests/**/*.ts', '**/*.test.ts'], rules: { 'max-lines': ['error', { max: 420, skipBlankLines: true, skipComments: true }] } },
  ...astro.configs.recommended,
  {
    files: ['src/pages/**/*.astro', 'src/layouts/**/*.astro'],
    rules: { 'no-restricted-imports': ['error', { patterns: ['better-sqlite3', '**/server/catalogue/*', '**/server/runs/*'] }] },
  },
);
