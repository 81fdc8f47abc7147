import js from '@eslint/js'
import vue from 'eslint-plugin-vue'
import globals from 'globals'
import ts from 'typescript-eslint'

export default ts.config(
  { ignores: ['dist', 'dist.next', 'dist.former', 'src/api/schema.d.ts'] },
  js.configs.recommended,
  ...ts.configs.recommended,
  ...vue.configs['flat/recommended'],
  {
    files: ['**/*.vue'],
    languageOptions: { parserOptions: { parser: ts.parser } },
  },
  {
    languageOptions: { globals: globals.browser },
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      'vue/multi-word-component-names': 'off',
      'vue/max-attributes-per-line': 'off',
      'vue/singleline-html-element-content-newline': 'off',
      'vue/html-self-closing': 'off',
      'vue/html-indent': 'off',
      'vue/html-closing-bracket-newline': 'off',
      'vue/first-attribute-linebreak': 'off',
      'vue/multiline-html-element-content-newline': 'off',
      'vue/require-default-prop': 'off',
      'no-undef': 'off',
      // Controls are the component library's; where the browser's own is better, docs/decisions/0024 says why.
      'vue/no-restricted-html-elements': [
        'error',
        ...['button', 'input', 'select', 'textarea', 'dialog', 'datalist'].map((element) => ({
          element,
          message: `take the component library's part, or one of shared/, instead of <${element}>`,
        })),
      ],
    },
  },
  {
    files: ['src/shared/FileField.vue', 'src/shared/Figure.vue', 'src/house/YearOfDays.vue'],
    rules: { 'vue/no-restricted-html-elements': 'off' },
  },
)
