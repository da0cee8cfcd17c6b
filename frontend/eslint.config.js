import pluginVue from 'eslint-plugin-vue'
import tseslint from 'typescript-eslint'
import vueParser from 'vue-eslint-parser'

/** The floors of the front end: app → features → design → api; nothing reaches back up. */
const above = (files, ...floors) => ({
  files: [files],
  rules: { 'no-restricted-imports': ['error', { patterns: floors.map((one) => `@/${one}/*`) }] },
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
  above('src/features/**', 'app'),
  above('src/design/**', 'app', 'features'),
  above('src/api/**', 'app', 'features', 'design'),
]
