// What is looked for in the front end, beside its types. How lines are set is left to whoever writes them.
import vue from 'eslint-plugin-vue'
import tseslint from 'typescript-eslint'

export default tseslint.config(
  { ignores: ['dist', 'node_modules', 'src/api/schema.d.ts'] },
  tseslint.configs.recommended,
  vue.configs['flat/essential'],
  {
    languageOptions: { parserOptions: { parser: tseslint.parser } },
    rules: {
      eqeqeq: ['error', 'always', { null: 'ignore' }],
      'no-console': 'error',
      'prefer-const': 'error',
      'vue/multi-word-component-names': 'off',
      'vue/no-unused-refs': 'error',
      'vue/no-unused-emit-declarations': 'error',
      'vue/no-v-html': 'error',
      '@typescript-eslint/consistent-type-assertions': ['error', { assertionStyle: 'as', objectLiteralTypeAssertions: 'never' }],
      '@typescript-eslint/no-explicit-any': 'error',
    },
  },
)
