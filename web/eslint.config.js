import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

/** The features in the order of reading: each may import those before it and nothing behind it. */
const FEATURES = [
  'forms',
  'workspace',
  'deals',
  'sources',
  'contacts',
  'clauses',
  'facts',
  'delivering',
  'signing',
  'offers',
  'assembly',
  'write',
  'estimates',
  'proofreading',
  'tasks',
  'templates',
  'today',
  'offices',
];

const inOrder = FEATURES.map((feature, n) => ({
  files: [`src/features/${feature}/**`],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: FEATURES.slice(n + 1).map((later) => ({
          group: [`**/${later}/*`, `**/features/${later}/**`],
          message: `“${later}” comes after “${feature}” in the order of features (eslint.config).`,
        })),
      },
    ],
  },
}));
const below = ['api', 'primitives'].map((floor) => ({
  files: [`src/${floor}/**`],
  rules: {
    'no-restricted-imports': ['error', { patterns: [{ group: ['**/features/**'], message: 'It comes before the features.' }] }],
  },
}));

/** Pages for whoever has no account: nothing of a feature is in their bundle. */
const strangers = {
  files: ['src/signer/**'],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: [
          { group: ['**/features/**', '@tanstack/*', 'radix-ui'], message: 'Signers load this on a phone: keep it small.' },
        ],
      },
    ],
  },
};

/** Where the focus is put behind the picture, the key that answers the picture finds nothing. */
const IN_EFFECT = "CallExpression[callee.name='useEffect'] > :function";
const focus = {
  selector: `${IN_EFFECT} CallExpression[callee.property.name='focus']:not(${IN_EFFECT} :function *)`,
  message: 'The focus goes where the screen goes: useLayoutEffect.',
};

const screenKeys = {
  selector: "CallExpression[callee.property.name='addEventListener'][arguments.0.value='keydown'][callee.object.name='window']",
  message: 'A screen hears keys by src/primitives/screen-keys.ts.',
};

const standing = {
  selector: "CallExpression[callee.property.name='setQueryData']:not([arguments.1.type='ArrowFunctionExpression'])",
  message: 'What an action gave is put in by src/api/stands.ts.',
};

/** Keys are taken apart in one file. */
const keys = {
  files: ['src/**'],
  // A link is parted by a dot, too; and what is below the screens hears keys for them.
  ignores: ['src/api/{keys,stands}.ts', 'src/features/offices/welcome.tsx', 'src/primitives/{aimed,screen-keys}.ts'],
  rules: {
    'no-restricted-syntax': [
      'error',
      focus,
      screenKeys,
      standing,
      {
        selector: "CallExpression[callee.property.name='split'][arguments.0.value='.']",
        message: 'Keys are taken apart in src/api/keys.ts.',
      },
      {
        selector: 'Literal[value=/^doc[.]/], TemplateElement[value.raw=/^doc[.]/]',
        message: 'Keys are put together in src/api/keys.ts.',
      },
    ],
  },
};

/** The web's tests, in tests/web: no order of features, and no bound on what a test's callback holds. */
export const tests = tseslint.config(...tseslint.configs.recommended, {
  plugins: { 'react-hooks': hooks },
  rules: {
    'react-hooks/rules-of-hooks': 'error',
    'react-hooks/exhaustive-deps': 'error',
    '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
  },
});

export default tseslint.config(
  { ignores: ['src/api/schema.d.ts'] },
  ...tseslint.configs.recommended,
  { rules: { 'max-lines-per-function': ['error', { max: 80 }] } },
  { plugins: { 'react-hooks': hooks }, rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' } },
  ...inOrder.filter(({ rules }) => rules['no-restricted-imports'][1].patterns.length > 0),
  ...below,
  strangers,
  keys,
);
