import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  { ignores: ['src/generated/**', 'dist/**'] },
  ...tseslint.configs.recommended,
  {
    files: ['src/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks },
    rules: {
      'react-hooks/rules-of-hooks': 'error',
      'react-hooks/exhaustive-deps': 'error',
      '@typescript-eslint/no-explicit-any': 'error',
      // Prettier breaks lines; what it cannot break are the words of a text and lists of classes.
      'max-len': ['error', { code: 120, ignoreStrings: true, ignoreTemplateLiterals: true, ignorePattern: 'className=|aria-label=' }],
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }],
    },
  },
  {
    // What computes or holds state knows nothing of React, so that it can be read, and tried, without a page.
    files: ['src/state/**/*', 'src/api/**/*', 'src/draw/**/*'],
    rules: { 'no-restricted-imports': ['error', { patterns: ['react', 'react-dom', 'react/*', 'react-router', '@tanstack/react-query', '*.tsx'] }] },
  },
);
