import js from '@eslint/js';
import angular from 'angular-eslint';
import regexp from 'eslint-plugin-regexp';
import rxjs from 'eslint-plugin-rxjs-x';
import tseslint from 'typescript-eslint';

/** Which of our own packages each folder may import. Arrows point one way only; core points nowhere. */
const arrows = {
  core: [],
  engine: ['core'],
  standins: ['core', 'engine'],
  server: ['core', 'engine'],
  web: ['core'],
  e2e: ['core'],
};
const sides = Object.keys(arrows);

function arrowRule(side) {
  const patterns = sides
    .filter((other) => other !== side && !arrows[side].includes(other))
    .map((other) => ({
      group: [`@plain-envoy/${other}`, `@plain-envoy/${other}/*`, `**/${other}/src/**`],
      message: `${side} may not depend on ${other}.`,
    }));
  if (side === 'core') {
    patterns.push({
      group: ['node:*', '@angular/*', 'rxjs', 'rxjs/*'],
      message: 'core has no Node, no DOM and no Angular; its dependencies are small and know nothing of either.',
    });
    patterns.push({
      regex: '^(?!zod$|jsep$|ipaddr\\.js$|fast-deep-equal$|fastest-levenshtein$|chevrotain$|re2js$|fast-check$|\\.{1,2}/)',
      message: 'core depends on zod, jsep, ipaddr.js, fast-deep-equal, fastest-levenshtein, chevrotain and re2js only.',
    });
    patterns.push({ regex: '^(\\.\\./)+(?!\\.\\.)[^/]+/(?!index\\.js$)', message: 'From another folder of core, import its index.' });
  }
  const globals = ['window', 'document', 'navigator', 'process', 'Buffer', 'require', 'global'];
  return {
    files: [`${side}/src/**/*.ts`],
    rules: {
      'no-restricted-imports': ['error', { patterns }],
      ...(side === 'core' ? { 'no-restricted-globals': ['error', ...globals] } : {}),
    },
  };
}

/** In templates: what is not made by hand, and what takes its place. */
const byHand = [
  ["Element[name='select']", 'pe-choose, or pe-search where there are many'],
  ["Element[name='textarea']:not(:has(TextAttribute[name='matInput']))", 'pe-text with lines'],
  ["Element[name='progress']", 'mat-progress-bar'],
  ["Element TextAttribute[name='type'][value=/^(checkbox|radio|range)$/]", 'mat-checkbox, mat-radio-button or mat-slider'],
  ["TextAttribute[name='role'][value=/^(tab|tablist)$/]", 'mat-tab-nav-bar'],
  ["BoundEvent[name='submit']", 'a reactive form, with (ngSubmit)'],
  ["BoundEvent[name='scroll']", 'pe-table or cdk-virtual-scroll-viewport, or cdkScrollable for a drawing'],
];

export default tseslint.config(
  { ignores: ['**/dist/**', '**/node_modules/**', '.data/**', '.stamps/**', 'web/.angular/**', 'web/out-tsc/**'] },
  js.configs.recommended,
  {
    files: ['**/*.ts'],
    extends: [...tseslint.configs.strict],
    rules: {
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-extraneous-class': 'off',
      '@typescript-eslint/no-dynamic-delete': 'off',
      '@typescript-eslint/consistent-type-imports': 'off',
      '@typescript-eslint/no-invalid-void-type': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { ignoreRestSiblings: true }],
    },
  },
  {
    // A pattern whose time grows faster than the text can hold everybody up.
    files: ['**/*.ts'],
    ignores: ['**/*.spec.ts', 'e2e/**'],
    plugins: { regexp },
    rules: {
      'regexp/no-super-linear-backtracking': 'error',
      'regexp/no-super-linear-move': ['error', { report: 'certain', ignoreSticky: true }],
    },
  },
  {
    // A rejection that nobody hears ends the process.
    files: ['server/src/**/*.ts', 'engine/src/**/*.ts', 'standins/src/**/*.ts'],
    ignores: ['**/*.spec.ts', '**/*.spec-helper.ts'],
    languageOptions: { parserOptions: { projectService: true } },
    rules: { '@typescript-eslint/no-floating-promises': ['error', { ignoreVoid: false }] },
  },
  {
    // What is asked of the server is asked only when somebody subscribes; a call whose answer nobody wants does nothing at all.
    files: ['web/src/**/*.ts'],
    ignores: ['**/*.worker.ts'],
    languageOptions: { parserOptions: { projectService: true } },
    plugins: { 'rxjs-x': rxjs },
    rules: {
      'rxjs-x/no-floating-observables': ['error', { ignoreVoid: false }],
      '@typescript-eslint/no-floating-promises': ['error', { ignoreVoid: true }],
    },
  },
  { files: ['web/**/*.ts'], extends: [...angular.configs.tsRecommended], processor: angular.processInlineTemplates },
  { files: ['web/**/*.html'], extends: [...angular.configs.templateRecommended, ...angular.configs.templateAccessibility] },
  {
    // What there is a part for is not made by hand.
    files: ['web/**/*.html'],
    rules: {
      'no-restricted-syntax': ['error', ...byHand.map(([selector, instead]) => ({ selector, message: `Use ${instead}.` }))],
    },
  },
  {
    files: ['**/*.mjs', '**/*.cjs'],
    languageOptions: {
      globals: Object.fromEntries(
        [
          'process',
          'console',
          'performance',
          'structuredClone',
          'setTimeout',
          'clearTimeout',
          'setInterval',
          'clearInterval',
          'Buffer',
          'URL',
          'require',
          'module',
          '__dirname',
          'fetch',
        ].map((name) => [name, 'readonly']),
      ),
    },
  },
  ...sides.map(arrowRule),
);
