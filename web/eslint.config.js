import { readdirSync } from 'node:fs';
import js from '@eslint/js';
import jsxA11y from 'eslint-plugin-jsx-a11y';
import reactHooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  { ignores: ['dist', 'src/api/schema.gen.ts', 'src/core/door.gen.ts', 'eslint.config.js'] },
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
  // A page never imports another page; parts, the API and what works offline know no page and no shell.
  ...readdirSync(new URL('src/pages', import.meta.url)).map((page) => ({
    files: [`src/pages/${page}/**`],
    rules: { 'no-restricted-imports': ['error', { patterns: [...otherPages(page), '**/app/*'] }] },
  })),
  {
    files: ['src/parts/**', 'src/api/**', 'src/offline/**'],
    rules: { 'no-restricted-imports': ['error', { patterns: ['**/pages/**', '**/app/*'] }] },
  },
  {
    // The door to the core knows nothing of the pages: what goes through it is plain data.
    files: ['src/core/**'],
    rules: {
      'no-restricted-imports': [
        'error',
        { patterns: ['**/pages/**', '**/app/*', '**/parts/*', '**/offline/*', '**/words/*'] },
      ],
    },
  },
  {
    // The generated client and its queries stand on nothing of the pages.
    files: ['src/api/**'],
    rules: { 'no-restricted-imports': ['error', { patterns: ['**/pages/**', '**/app/*', '**/parts/*'] }] },
  },
);

/** Every folder of a page but this one, however it is reached. */
function otherPages(page) {
  const pages = readdirSync(new URL('src/pages', import.meta.url)).filter((other) => other !== page);
  return pages.flatMap((other) => [`../${other}/*`, `**/pages/${other}/**`]);
}
