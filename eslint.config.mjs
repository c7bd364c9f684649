import js from '@eslint/js';
import hooks from 'eslint-plugin-react-hooks';
import globals from 'globals';
import typescript from 'typescript-eslint';

/**
 * Which way things flow (docs/architecture.md): web → core ← server; the core imports nobody; the stand-in is the
 * world outside, and knows none of us. A table, so that a new room is a new line.
 */
const FLOWS = [
  {
    room: 'core/src',
    not: ['@kiraku/*', 'node:*', 'react*', 'antd', '@nestjs/*', 'drizzle-orm*', 'better-sqlite3', 'd3-selection'],
    why: 'The core is pure: no other room, no Node, no framework.',
  },
  {
    room: 'server/src',
    not: ['@kiraku/server/*', '@kiraku/web*', '@kiraku/standin*', '@kiraku/demo*', 'react*', 'antd'],
    why: 'The server knows the core only.',
  },
  {
    room: 'web/src',
    not: ['@kiraku/server*', '@kiraku/standin*', '@kiraku/demo*', 'node:*', '@nestjs/*'],
    why: 'The page meets the server in core/contract and over HTTP.',
  },
  {
    room: 'web/viewer/src',
    not: ['@kiraku/server*', 'node:*', 'react*', 'antd*', '@reduxjs/*', '../src/*'],
    why: 'What recipients load is light: nothing of the desk is in it.',
  },
  {
    room: 'standin/src',
    not: ['@kiraku/*'],
    why: 'The stand-in is the world outside: it speaks SMTP and HTTP and shares no code.',
  },
];

/** SQL is written where one looks for it. */
const SQL_ROOMS = ['server/src/store/**', 'server/src/**/*.repository.ts', 'server/src/tracking/statements.ts'];

const restrict = (group, message) => ({
  '@typescript-eslint/no-restricted-imports': ['error', { patterns: [{ group, message, allowTypeImports: false }] }],
});

export default typescript.config(
  { ignores: ['**/dist/', '**/node_modules/', 'data/', '.demo/', '.test/', '.update/'] },
  js.configs.recommended,
  ...typescript.configs.strict,
  {
    languageOptions: { globals: globals.node },
    rules: {
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-extraneous-class': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      eqeqeq: ['error', 'always', { null: 'ignore' }],
      'no-console': 'error',
    },
  },
  ...FLOWS.map(({ room, not, why }) => ({ files: [`${room}/**/*.{ts,tsx}`], rules: restrict(not, why) })),
  {
    files: ['server/src/**/*.ts'],
    // What needs more than seven others does more than one thing.
    rules: { '@typescript-eslint/max-params': ['error', { max: 7 }] },
  },
  {
    files: ['server/src/**/*.ts'],
    ignores: SQL_ROOMS,
    rules: restrict(
      [...FLOWS[1].not, 'drizzle-orm*', 'better-sqlite3', '**/store/schema.js'],
      'SQL is written in the repository of its domain.',
    ),
  },
  {
    files: ['web/src/**/*.{ts,tsx}', 'web/viewer/src/**/*.ts'],
    languageOptions: { globals: globals.browser },
    plugins: { 'react-hooks': hooks },
    rules: hooks.configs.recommended.rules,
  },
  // What is meant to print.
  {
    files: [
      'scripts/**',
      'bench/**',
      'demo/**',
      '**/src/main.ts',
      'server/src/publicSite/main.ts',
      'server/src/supervisor/**',
      'server/src/backup/makeBackup.ts',
      'server/src/checkup/checkUp.ts',
      'server/src/backup/restoreBackup.ts',
      'server/src/session/resetPassphrase.ts',
      'server/src/update/tryVersion.ts',
      'server/src/update/update.ts',
      '**/jest.setup.mjs',
    ],
    rules: { 'no-console': 'off' },
  },
);
