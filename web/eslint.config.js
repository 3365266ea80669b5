import js from '@eslint/js'
import prettier from 'eslint-config-prettier'
import vue from 'eslint-plugin-vue'
import ts from 'typescript-eslint'

export default ts.config(
  { ignores: ['node_modules', 'src/shared/api/generated.ts', 'src/components.d.ts'] },
  js.configs.recommended,
  ts.configs.recommended,
  vue.configs['flat/recommended'],
  { files: ['**/*.vue'], languageOptions: { parserOptions: { parser: ts.parser } } },
  { rules: { 'no-undef': 'off', 'vue/multi-word-component-names': 'off', 'vue/require-default-prop': 'off' } },
  {
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector: "CallExpression[callee.property.name='slice'] CallExpression[callee.property.name='toISOString']",
          message: 'That is the day in London: use homeNow or homeToday of shared/units/homeTime.',
        },
      ],
    },
  },
  prettier,
)
