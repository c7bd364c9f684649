import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { build } from 'rolldown';
import bundle from '../rolldown.config.mjs';

const IMPORTED = /from '@kiraku\/(server|core)\/([^']+)'/g;
const BUILT = { server: (name) => `dist/${name}.js`, core: (name) => `../core/dist/${name}/index.js` };

/**
 * Jest lets each test file see globals of its own, and each look at one takes a microsecond: a fifth of the time of these
 * tests. Time is not among them, which tests may set.
 */
const LOOKED_UP_OFTEN = 'Array, Error, JSON, Map, Math, Number, Object, Promise, Reflect, Set, String, Symbol, WeakMap';

/**
 * What tests import of the server as it is built, and of the core, in one file: each file of tests would look for two
 * thousand others, which takes as long as half of the tests.
 */
export async function bundleForTests() {
  const imports = readdirSync(import.meta.dirname, { recursive: true })
    .filter((name) => name.endsWith('.ts'))
    .flatMap((name) => [...readFileSync(join(import.meta.dirname, name), 'utf8').matchAll(IMPORTED)]);
  await build({
    ...bundle,
    input: Object.fromEntries(imports.map(([, room, name]) => [`${room}/${name}`, BUILT[room](name)])),
    output: {
      dir: join(import.meta.dirname, '../dist/tested'),
      entryFileNames: '[name].js',
      chunkFileNames: '[name].js',
      banner: `const { ${LOOKED_UP_OFTEN} } = globalThis;`,
      codeSplitting: { groups: [{ name: 'all', test: /./ }] },
      cleanDir: true,
    },
    logLevel: 'silent',
  });
}
