import js from '@eslint/js';
import angular from 'angular-eslint';
import { defineConfig } from 'eslint/config';
import tseslint from 'typescript-eslint';

/** Which of our own packages, and which of other people's, each part may know. The reasons: docs/architecture.md. */
const MAY_KNOW = {
  core: [],
  contract: ['core'],
  runtime: [],
  server: ['core', 'contract', 'runtime'],
  relay: ['core', 'contract', 'runtime'],
  web: ['core', 'contract'],
  standins: ['runtime'],
  e2e: [],
  tools: [],
};

/** Whatever ties a part to a place it must not know: a browser's or a server's packages, or Node's own. */
const FOREIGN_PACKAGES = {
  core: ['node:*', 'express', 'drizzle-orm*', 'pg', 'zod*', '@angular/*', '@ngrx/*', 'rxjs*', 'socket.io*'],
  contract: ['node:*', 'express', 'drizzle-orm*', 'pg', '@angular/*', '@ngrx/*', 'rxjs*', 'socket.io*'],
  web: ['node:*', 'express', 'drizzle-orm*', 'pg', 'pino*'],
  runtime: ['@angular/*', '@ngrx/*', 'rxjs*', 'drizzle-orm*', 'express'],
  server: ['@angular/*', '@ngrx/*', 'rxjs*'],
  relay: ['@angular/*', '@ngrx/*', 'rxjs*', 'drizzle-orm*', 'express'],
  standins: ['@angular/*', '@ngrx/*', 'rxjs*', 'drizzle-orm*', 'pg'],
};

const parts = Object.keys(MAY_KNOW);

function boundaries(part) {
  const closed = parts.filter((other) => other !== part && !MAY_KNOW[part].includes(other));
  const patterns = [
    {
      group: closed.flatMap((other) => [`@juncta/${other}`, `@juncta/${other}/*`]),
      message: `${part} may know ${MAY_KNOW[part].join(' and ') || 'none of the other parts'}.`,
    },
    {
      // With `/src`: a folder within a part may have another part's name, as web has a `relay` of its own.
      regex: `^(\\.\\./)+((${parts.filter((other) => other !== part).join('|')})/src(/|$)|e2e/|tools/)`,
      message: 'Other parts are reached by their package name, and only by what they export.',
    },
  ];
  if (FOREIGN_PACKAGES[part]) {
    patterns.push({ group: FOREIGN_PACKAGES[part], message: `${part} must run without this package.` });
  }
  return {
    files: [`${part}/**/*.ts`],
    rules: { 'no-restricted-imports': ['error', { patterns }] },
  };
}

export default defineConfig(
  { ignores: ['**/node_modules', '**/dist', '**/.angular', '.data', '.test', 'server/migrations'] },
  js.configs.recommended,
  {
    files: ['**/*.ts'],
    extends: [tseslint.configs.strictTypeChecked, tseslint.configs.stylisticTypeChecked],
    languageOptions: {
      parserOptions: {
        project: [
          'core/tsconfig.json',
          'contract/tsconfig.json',
          'runtime/tsconfig.json',
          'server/tsconfig.json',
          'relay/tsconfig.json',
          'standins/tsconfig.json',
          'tools/tsconfig.json',
          'e2e/tsconfig.json',
          'web/tsconfig.spec.json',
        ],
        tsconfigRootDir: import.meta.dirname,
      },
    },
    rules: {
      // Numbers in sentences are what templates are for.
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      // A `!` says what the reader is to know: the line before has made sure of it.
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-confusing-void-expression': [
        'error',
        { ignoreArrowShorthand: true, ignoreVoidReturningFunctions: true },
      ],
      '@typescript-eslint/no-empty-function': ['error', { allow: ['arrowFunctions'] }],
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }],
      '@typescript-eslint/consistent-type-imports': 'error',
      // It does not see that state can change while something is awaited, and would have the check removed.
      '@typescript-eslint/no-unnecessary-condition': 'off',
      '@typescript-eslint/unbound-method': ['error', { ignoreStatic: true }],
      // Functional handlers of the router, the store and express are async on purpose.
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: false }],
      '@typescript-eslint/require-await': 'off',
      // Page objects and test houses hold what a library calls `any`.
      '@typescript-eslint/no-unsafe-class-instance-assignment': 'off',
      // Settings and dictionaries read by index carry their quotes: that is how the compiler wants them.
      '@typescript-eslint/dot-notation': 'off',
      'no-irregular-whitespace': 'error',
      // Nobody holds the signal of such a timeout, so it goes with the next collection of garbage, and its end never comes.
      'no-restricted-syntax': [
        'error',
        {
          selector:
            "CallExpression[callee.object.name='AbortSignal'][callee.property.name='any'] CallExpression[callee.object.name='AbortSignal'][callee.property.name='timeout']",
          message: 'Abort a controller of your own from a timer.',
        },
      ],
      'no-control-regex': 'off',
    },
  },
  {
    files: ['core/src/**/*.ts', 'server/src/**/*.ts'],
    ignores: ['**/*.spec.ts', '**/testing/**', '**/bench/**', 'server/src/clock/**'],
    rules: {
      'no-restricted-properties': [
        'error',
        { object: 'Date', property: 'now', message: 'Take the time from a Clock.' },
        { object: 'performance', property: 'now', message: 'Take the time from a Clock.' },
      ],
    },
  },
  {
    files: ['web/src/**/*.ts'],
    extends: [angular.configs.tsRecommended],
    processor: angular.processInlineTemplates,
    rules: {
      '@angular-eslint/component-selector': ['error', { type: 'element', prefix: 'jn', style: 'kebab-case' }],
      '@angular-eslint/prefer-on-push-component-change-detection': 'error',
      '@angular-eslint/prefer-signals': 'error',
      '@typescript-eslint/no-extraneous-class': ['error', { allowWithDecorator: true }],
    },
  },
  {
    files: ['web/src/**/*.html'],
    extends: [angular.configs.templateRecommended, angular.configs.templateAccessibility],
    rules: {
      // The row of a board is chosen by its button; the click beside it is a convenience for the mouse.
      '@angular-eslint/template/click-events-have-key-events': 'off',
      '@angular-eslint/template/interactive-supports-focus': 'off',
    },
  },
  {
    files: ['**/*.spec.ts'],
    rules: {
      '@typescript-eslint/no-unsafe-assignment': 'off',
      '@typescript-eslint/no-unsafe-argument': 'off',
      // Spies are handed to expectations by name.
      '@typescript-eslint/unbound-method': 'off',
    },
  },
  {
    files: ['web/src/**/*.spec.ts'],
    rules: { '@angular-eslint/prefer-on-push-component-change-detection': 'off' },
  },
  ...parts.map(boundaries),
  {
    files: ['web/karma.conf.cjs'],
    languageOptions: { globals: { require: 'readonly', module: 'writable', process: 'readonly' } },
  },
);
