import js from '@eslint/js'
import vue from 'eslint-plugin-vue'
import globals from 'globals'
import ts from 'typescript-eslint'

// Imports run one way: app, subjects, shared, api. A subject may be composed of parts of those named after it.
const SUBJECTS = [
  'today',
  'search',
  'uses',
  'portfolio',
  'ideas',
  'rates',
  'robots',
  'workshop',
  'selfservice',
  'people',
  'house',
  'safe',
  'upkeep',
  'runs',
  'starts',
  'tally',
  'cases',
  'access',
]
const shut = (files, folders, message) => ({
  files,
  rules: {
    'no-restricted-imports': [
      'error',
      { patterns: [{ regex: `^(@|\\.\\.)/(${folders.join('|')})/`, message }] },
    ],
  },
})

const library = {
  selector: "ImportDeclaration[source.value='element-plus'][importKind!='type']",
  message: 'write the part into the template, which brings its styles; an import here comes without them',
}

export default ts.config(
  { ignores: ['dist', 'dist.next', 'dist.former', 'src/api/schema.d.ts', 'src/api/words.ts'] },
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
      // A part that is not imported is drawn as nothing, and nobody is told.
      'vue/no-undef-components': ['error', { ignorePatterns: ['el(-[a-z]+)+', 'router-(link|view)'] }],
      // A page is composed of parts; what grows beyond this is one more part.
      'max-lines': ['error', { max: 200 }],
      // Controls are the component library's; where the browser's own is better, docs/decisions/0024 says why.
      'vue/no-restricted-html-elements': [
        'error',
        ...['button', 'input', 'select', 'textarea', 'dialog', 'datalist', 'details'].map((element) => ({
          element,
          message: `take the component library's part, or one of shared/, instead of <${element}>`,
        })),
        { element: 'el-select', message: 'take shared/Choice, which is as wide as its words and searched once there are many' },
      ],
    },
  },
  {
    files: ['src/shared/Choice.vue', 'src/shared/PersonField.vue', 'src/shared/FileField.vue', 'src/shared/Figure.vue', 'src/house/YearOfDays.vue'],
    rules: { 'vue/no-restricted-html-elements': 'off' },
  },
  { files: ['src/**'], rules: { 'no-restricted-syntax': ['error', library] } },
  shut(['src/api/**'], ['app', 'shared', ...SUBJECTS], 'the client of the server imports nothing of the pages'),
  shut(['src/shared/**'], ['app', ...SUBJECTS], 'shared parts know no subject'),
  ...SUBJECTS.map((subject, at) =>
    shut(
      [`src/${subject}/**`],
      ['app', ...SUBJECTS.slice(0, at)],
      `${subject} is taken by those before it and takes none of them; see SUBJECTS`,
    ),
  ),
)
