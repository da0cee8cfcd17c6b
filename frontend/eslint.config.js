import { readdirSync } from 'node:fs'
import pluginVue from 'eslint-plugin-vue'
import tseslint from 'typescript-eslint'
import vueParser from 'vue-eslint-parser'

const floors = ['app', 'features', 'shared', 'design', 'api']
const features = readdirSync(new URL('src/features', import.meta.url))

/** What files of a folder may not import; nobody climbs out of a folder by a relative path. */
const closed = (files, patterns) => ({
  files: [files],
  rules: {
    'no-restricted-imports': [
      'error',
      { patterns: [{ regex: '^\\.\\./', message: 'Write @/ and the path.' }, ...patterns] },
    ],
  },
})

const queryKeys = {
  selector: 'Property[key.name="key"] > ArrayExpression',
  message: 'Keys of queries stand in shared/queries.ts.',
}

const machineTime = [
  'CallExpression[callee.object.name="Date"][callee.property.name="now"]',
  'NewExpression[callee.name="Date"][arguments.length=0]',
].map((selector) => ({ selector, message: 'What time it is says api/clock.ts.' }))

/** What no file but some may write. */
const only = (ignores, refused) => ({
  files: ['src/**/*.{ts,vue}'],
  ignores,
  rules: { 'no-restricted-syntax': ['error', ...refused] },
})

/** The floors of the front end: app → features → shared → design → api; nothing reaches back up. */
const above = (floor) =>
  floors.slice(0, floors.indexOf(floor)).map((one) => ({
    regex: `^@/${one}/`,
    message: `${floor} lies below ${one}.`,
  }))

/** A feature knows no other: what several need is shared. */
const beside = (feature) => ({
  regex: `^@/features/(?!${feature}/)`,
  message: 'What several features need lies in shared.',
})

export default [
  { ignores: ['src/api/schema.d.ts', 'node_modules'] },
  ...tseslint.configs.recommended,
  ...pluginVue.configs['flat/recommended'],
  {
    files: ['src/**/*.vue'],
    languageOptions: { parser: vueParser, parserOptions: { parser: tseslint.parser } },
  },
  {
    rules: {
      'vue/multi-word-component-names': 'off',
      'vue/max-attributes-per-line': 'off',
      'vue/singleline-html-element-content-newline': 'off',
      'vue/html-self-closing': 'off',
      'vue/html-indent': 'off',
      'vue/html-closing-bracket-newline': 'off',
      'vue/multiline-html-element-content-newline': 'off',
      'vue/attributes-order': 'off',
      'vue/require-default-prop': 'off',
    },
  },
  only(['src/api/clock.ts', 'src/shared/queries.ts'], [queryKeys, ...machineTime]),
  { ...only([], machineTime), files: ['src/shared/queries.ts'] },
  ...floors.map((floor) => closed(`src/${floor}/**`, above(floor))),
  ...features.map((feature) =>
    closed(`src/features/${feature}/**`, [...above('features'), beside(feature)]),
  ),
]
