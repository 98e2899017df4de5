import { readdirSync, readFileSync } from 'node:fs'
import js from '@eslint/js'
import boundaries from 'eslint-plugin-boundaries'
import importX from 'eslint-plugin-import-x'
import vue from 'eslint-plugin-vue'
import ts from 'typescript-eslint'
import { faces } from './eslint.faces.mjs'
import { exceptions } from './eslint.exceptions.mjs'

const floors = ['core', 'shared', 'server', 'app']
const upward = { core: ['shared', 'server', 'app'], shared: ['server', 'app'], server: ['app'], app: ['server'] }
const outside = {
  core: [
    'vue',
    'vue-router',
    'nuxt*',
    '#*',
    'drizzle-orm*',
    'pg*',
    'h3',
    'pinia',
    '@vueuse/*',
    'node:*',
    'fs',
    'path',
    'os',
    'zod',
  ],
  shared: ['vue', 'vue-router', 'nuxt*', 'drizzle-orm*', 'pg*', 'h3', 'pinia', '@vueuse/*', 'node:*'],
  server: ['vue', 'pinia', '@headlessui/*'],
  app: ['drizzle-orm*', 'pg', 'pg-*', 'h3', 'node:*'],
}

/**
 * No import may go up a floor. Two rules hold it: this one reads the import's text, the other follows it to its file.
 */
const floorRules = floors.map((floor) => ({
  files: [`${floor}/**/*.{ts,vue}`],
  ignores: ['**/*.test.ts'],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: [
          {
            group: upward[floor].flatMap((up) => [
              `**/${up}/**`,
              `~~/${up}`,
              `~~/${up}/**`,
              ...(up === 'app' ? ['~/*', '@/*'] : []),
            ]),
            message: `${floor} must not import from a floor above it.`,
          },
          { group: outside[floor], message: `${floor} does not know this package.` },
        ],
      },
    ],
  },
}))

/**
 * Requests are checked by the server. A screen that took one value from a file of schemas would bring the library that
 * checks them to every browser; words and rights stand in files of their own.
 */
const schemaFiles = readdirSync('shared', { recursive: true, encoding: 'utf8' })
  .filter((file) => file.endsWith('.ts') && /^import \* as z from 'zod'/m.test(readFileSync(`shared/${file}`, 'utf8')))
  .map((file) => `~~/shared/${file.replace(/\.ts$/, '')}`)
const schemaRule = {
  files: ['app/**/*.{ts,vue}'],
  ignores: ['**/*.test.ts'],
  rules: {
    '@typescript-eslint/no-restricted-imports': [
      'error',
      {
        patterns: [
          { group: schemaFiles, allowTypeImports: true, message: 'Take its types only: it brings zod along.' },
        ],
      },
    ],
  },
}

/** The formatter decides where lines break and how markup is indented. */
const layoutRules = Object.fromEntries(
  [
    'first-attribute-linebreak',
    'html-closing-bracket-newline',
    'html-indent',
    'html-self-closing',
    'max-attributes-per-line',
    'multiline-html-element-content-newline',
    'singleline-html-element-content-newline',
  ].map((rule) => [`vue/${rule}`, 'off']),
)

/** How much one line, one function and one file may hold. */
const lines = (max) => ['error', { max, skipBlankLines: true, skipComments: true }]
const sizeRules = {
  curly: ['error', 'all'],
  complexity: ['error', 15],
  'max-depth': ['error', 3],
  'max-lines': lines(300),
  'max-params': ['error', 5],
  'max-statements': ['error', 25],
  'max-statements-per-line': ['error', { max: 1 }],
  'no-nested-ternary': 'error',
  'one-var': ['error', 'never'],
}

export default ts.config(
  { ignores: ['.nuxt', '.output', '.data', 'node_modules', 'server/database/migrations', 'test-results'] },
  js.configs.recommended,
  ...ts.configs.strict,
  ...vue.configs['flat/recommended'],
  { files: ['**/*.vue'], languageOptions: { parserOptions: { parser: ts.parser } } },
  {
    rules: {
      ...layoutRules,
      'no-undef': 'off',
      'vue/multi-word-component-names': 'off',
      'vue/require-default-prop': 'off',
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-invalid-void-type': 'off',
    },
  },
  {
    files: ['{core,shared,server,app}/**/*.{ts,vue}'],
    ignores: ['**/*.test.ts'],
    plugins: { boundaries },
    settings: {
      'import/resolver': {
        typescript: {
          project: ['.nuxt/tsconfig.app.json', '.nuxt/tsconfig.server.json'],
          noWarnOnMultipleProjects: true,
        },
      },
      'boundaries/elements': floors.map((floor) => ({ type: floor, pattern: floor })),
    },
    rules: {
      'boundaries/dependencies': [
        'error',
        {
          default: 'disallow',
          policies: [
            ...[
              ['core', ['core']],
              ['shared', ['shared', 'core']],
              ['server', ['server', 'shared', 'core']],
              ['app', ['app', 'shared', 'core']],
            ].map(([from, to]) => ({
              from: { element: { type: from } },
              allow: { to: { element: { types: { anyOf: to } } } },
            })),
            { allow: { to: { module: { origin: ['external', 'core'] } } } },
          ],
        },
      ],
    },
  },
  ...floorRules,
  schemaRule,
  {
    // Pages and components are built of the kit: lists sort and export, choices are searched, dates are written as the
    // company writes them.
    files: ['app/{pages,components,layouts}/**/*.vue'],
    ignores: ['app/components/ui/**'],
    rules: {
      'vue/no-restricted-html-elements': [
        'error',
        { element: 'select', message: 'Use UiChoice.' },
        { element: 'table', message: 'Use UiDataTable for a list, UiLinesTable for lines that are typed into.' },
      ],
      'vue/no-restricted-static-attribute': [
        'error',
        ...['date', 'week', 'month', 'time', 'datetime-local'].map((value) => ({
          key: 'type',
          value,
          message: 'Use UiDateField.',
        })),
      ],
    },
  },
  { files: ['**/*.{ts,mjs,vue}'], rules: sizeRules },
  {
    // Tables of data and of the database read as lists; tests as tables of cases.
    files: [
      '**/*.test.ts',
      'tests/**',
      'bench/**',
      'server/database/schema/**',
      'server/services/catalogue/tables/tables.ts',
      'app/composables/catalogue/definition-forms.ts',
    ],
    rules: { 'max-lines': lines(500), 'max-statements': 'off' },
  },
  {
    files: ['{core,shared,server}/**/*.ts'],
    plugins: { 'import-x': importX },
    settings: {
      'import-x/resolver': { typescript: { project: ['.nuxt/tsconfig.server.json'], noWarnOnMultipleProjects: true } },
      'import-x/parsers': { '@typescript-eslint/parser': ['.ts'] },
    },
    rules: { 'import-x/no-cycle': ['error', { ignoreExternal: true }] },
  },
  {
    files: ['{core,shared,server,app,bench,tests}/**/*.{ts,vue}'],
    plugins: { faces },
    rules: { 'faces/face-only': 'error' },
  },
  { files: ['core/**/index.ts'], plugins: { faces }, rules: { 'faces/face-size': 'error' } },
  // The board draws its cells as text of our own figures, no words of anybody.
  {
    files: ['app/components/planning/Board.vue', 'app/components/goods/BalanceWeeks.vue'],
    rules: { 'vue/no-v-html': 'off' },
  },
  ...exceptions,
)
