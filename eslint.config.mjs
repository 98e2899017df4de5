import js from '@eslint/js'
import boundaries from 'eslint-plugin-boundaries'
import vue from 'eslint-plugin-vue'
import ts from 'typescript-eslint'

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

/** No import may go up a floor. Two rules hold it: this one reads the import's text, the other follows it to its file. */
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

export default ts.config(
  { ignores: ['.nuxt', '.output', '.data', 'node_modules', 'server/database/migrations', 'test-results'] },
  js.configs.recommended,
  ...ts.configs.strict,
  ...vue.configs['flat/recommended'],
  { files: ['**/*.vue'], languageOptions: { parserOptions: { parser: ts.parser } } },
  {
    rules: {
      'no-undef': 'off',
      'vue/multi-word-component-names': 'off',
      'vue/max-attributes-per-line': 'off',
      'vue/singleline-html-element-content-newline': 'off',
      'vue/require-default-prop': 'off',
      'vue/html-self-closing': ['error', { html: { void: 'never', normal: 'any', component: 'always' } }],
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
)
