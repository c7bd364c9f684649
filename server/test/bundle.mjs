import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { build } from 'rolldown';
import bundle from '../rolldown.config.mjs';

const IMPORTED = /from '@kiraku\/(server|core)\/([^']+)'/g;
const BUILT = { server: (name) => `dist/${name}.js`, core: (name) => `../core/dist/${name}/index.js` };

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
      codeSplitting: { groups: [{ name: 'all', test: /./ }] },
      cleanDir: true,
    },
    logLevel: 'silent',
  });
}
