import js from '@eslint/js';
import jsxA11y from 'eslint-plugin-jsx-a11y';
import reactHooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  { ignores: ['dist', 'src/api/schema.gen.ts', 'eslint.config.js'] },
  js.configs.recommended,
  ...tseslint.configs.strictTypeChecked,
  reactHooks.configs.flat.recommended,
  jsxA11y.flatConfigs.strict,
  {
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      '@typescript-eslint/no-confusing-void-expression': ['error', { ignoreArrowShorthand: true }],
    },
  },
  {
    // A place never imports another place.
    files: ['src/places/**'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            '**/places/*',
            '../../places/**',
            '../room/*',
            '../child/*',
            '../door/*',
            '../beginning/*',
            '../setup/*',
            '../lessons/*',
            '../approach/*',
            '../round/*',
          ],
        },
      ],
    },
  },
);
