import js from '@eslint/js';
import prettier from 'eslint-config-prettier';
import vue from 'eslint-plugin-vue';
import globals from 'globals';
import tseslint from 'typescript-eslint';

/** Packages of ours that a layer may import; whatever is not named is forbidden. */
const ALLOWED = {
  core: [],
  contract: ['core'],
  server: ['core', 'contract'],
  web: ['core', 'contract'],
  cli: ['core', 'contract'],
  sample: ['core'],
  standins: [],
  bench: ['core', 'contract', 'sample'],
  e2e: ['sample', 'standins'],
};
const LAYERS = Object.keys(ALLOWED);

/** What the core must not know of: it is pure TypeScript. */
const CORE_GLOBALS = [
  'process',
  'window',
  'document',
  'fetch',
  'setTimeout',
  'setInterval',
  'Buffer',
  'console',
  'crypto',
  'performance',
];
const CORE_MEMBERS = [
  {
    object: 'Math',
    property: 'random',
    message: 'Randomness comes from a seed that is handed in.',
  },
  {
    object: 'Date',
    property: 'now',
    message: 'The core reads no clock; the date is part of the plan.',
  },
];

/** The layer rule: which of our packages a layer may import, and nobody another one's insides. */
const layerRule = (layer, files, ...more) => ({
  files,
  ignores: ['**/*.test.ts', '**/test/**', 'web/testing/**'],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: [
          {
            group: LAYERS.filter((other) => other !== layer && !ALLOWED[layer].includes(other)).map(
              (other) => `@dravex/${other}*`,
            ),
            message: `${layer} may import ${ALLOWED[layer].join(' and ') || 'no other package of ours'}.`,
          },
          { group: ['@dravex/*/*'], message: 'Import a package by its name, not its insides.' },
          {
            regex: `^(\\.\\./)+(${LAYERS.filter((other) => other !== layer).join('|')})/`,
            message: 'Import another layer by its package name.',
          },
          ...more,
        ],
      },
    ],
  },
});

/** The server's rooms from the ground up; see docs/adding.md. A room knows those before it. */
const ROOMS = [
  ...['platform', 'exchange', 'routing', 'journal', 'people', 'workspaces', 'dimensions', 'facts'],
  ...['plan', 'actuals', 'drivers', 'budgets', 'forecast', 'closing', 'targets', 'threads'],
  ...['sheets', 'ledger', 'comparison'],
  ...['reporting', 'views', 'connections', 'plan-file', 'api'],
];
/** What of a later room may be known too: how its things are kept, and who is let in. */
const KEPT = [
  ...['tables', 'store[\\w-]*', '[\\w-]+-store', 'thing', '[\\w-]+-thing', 'in-plan-file'],
  ...['line-sums', 'read-lines', 'codes', 'columns', 'actor', 'session', 'guard'],
];
const roomRule = (room, place) =>
  layerRule('server', [`server/src/${room}/**/*.ts`], {
    regex: `^\\.\\./(${ROOMS.slice(place + 1).join('|')})/(?!(${KEPT.join('|')})\\.ts$)`,
    message: `${room} comes before this room; see the order of rooms in docs/adding.md.`,
  });

const layerRules = [
  ...LAYERS.map((layer) => layerRule(layer, [`${layer}/**/*.{ts,vue}`])),
  ...ROOMS.map(roomRule).slice(1, -1),
  // The list of everything that is kept names every room.
  layerRule('server', ['server/src/journal/things.ts']),
  layerRule('server', ['server/src/platform/**/*.ts'], {
    regex: '^\\.\\./',
    message: 'The platform knows no room; what puts rooms together is in api/.',
  }),
];

/** Signs and digits that a template may hold beside texts. */
const SIGNS = [...'0123456789.,;:()[]{}/|+-=<>?!%*&#·×…“”–—˙◇◆▸▾→←↑↓•🔒−', '\u00a0'];
/** Attributes that people read. */
const LABELS = [
  ...['label', 'title', 'heading', 'placeholder', 'aria-label', 'about', 'text', 'hint'],
  ...['action', 'state', 'from', 'whose', 'more'],
];
/** A text that begins as a sentence does. Two presets of the period do too: they are codes. */
const SENTENCE = '/^(?!(This year|To date)$)[A-Z][a-z]+[ ,:][a-z ]/';
const SENTENCES = ['Literal[value', 'TemplateElement[value.cooked'].map((node) => ({
  selector: `${node}=${SENTENCE}]:not(NewExpression[callee.name='Error'] *)`,
  message: 'A text stands in the texts.ts of its room; see docs/adding-a-room.md.',
}));

/** What holds nothing but texts, by what they are. */
const TEXTS = [
  ...['texts', 'words', '*-words', 'headline', '*-headline'].map((name) => `web/src/**/${name}.ts`),
  ...['web/src/kit/terms.ts', 'web/src/grid/keys.ts', 'web/src/format/*.ts'],
];

export default tseslint.config(
  { ignores: ['**/dist/', '**/node_modules/', '.dravex/', 'server/migrations/', 'test-results/'] },
  js.configs.recommended,
  ...tseslint.configs.strict,
  ...vue.configs['flat/recommended'],
  {
    files: ['**/*.vue'],
    languageOptions: { parserOptions: { parser: tseslint.parser } },
    rules: {
      'vue/multi-word-component-names': 'off',
      'vue/require-default-prop': 'off',
      // A component that is not imported is no error to Vue: it becomes an element of that name.
      'vue/no-undef-components': ['error', { ignorePatterns: ['^v-', '^router-', '^Router'] }],
    },
  },
  {
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-non-null-assertion': 'error',
      '@typescript-eslint/consistent-type-imports': ['error', { fixStyle: 'inline-type-imports' }],
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_' },
      ],
      '@typescript-eslint/no-invalid-void-type': 'off',
      eqeqeq: 'error',
      'no-console': 'error',
    },
  },
  { files: ['**/*.{ts,vue}'], rules: { 'no-undef': 'off' } },
  { files: ['web/**/*.{ts,vue}'], languageOptions: { globals: globals.browser } },
  {
    // Controls are Vuetify's; what no library has is in the kit and in the grid.
    files: ['web/src/**/*.vue'],
    ignores: ['web/src/kit/**', 'web/src/grid/**'],
    rules: {
      'vue/no-restricted-html-elements': [
        'error',
        ...['button', 'select', 'input', 'textarea', 'table', 'dialog', 'progress'].map(
          (element) => ({
            element,
            message: 'Use the component of Vuetify or of web/src/kit; see docs/adding-a-room.md.',
          }),
        ),
      ],
    },
  },
  {
    // What a room says stands in its texts.ts, or in its *-words.ts where it is made of numbers.
    files: ['web/src/**/*.vue'],
    rules: {
      'vue/no-bare-strings-in-template': [
        'error',
        { allowlist: SIGNS, attributes: { '/.+/': LABELS } },
      ],
      'vue/no-restricted-syntax': ['error', ...SENTENCES],
    },
  },
  {
    files: ['web/src/**/*.{ts,vue}'],
    ignores: ['**/*.test.ts', ...TEXTS],
    rules: { 'no-restricted-syntax': ['error', ...SENTENCES] },
  },
  {
    files: ['scripts/**', 'cli/dravex.mjs', '*.js'],
    languageOptions: { globals: globals.node },
    rules: { 'no-console': 'off' },
  },
  {
    files: ['**/*.test.ts', '**/test/**/*.ts'],
    rules: {
      '@typescript-eslint/no-unused-expressions': 'off',
      'vue/one-component-per-file': 'off',
    },
  },
  {
    files: ['core/src/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-globals': ['error', ...CORE_GLOBALS],
      'no-restricted-properties': ['error', ...CORE_MEMBERS],
    },
  },
  ...layerRules,
  prettier,
);
