import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { build } from 'rolldown';
import bundle from '../rolldown.config.mjs';

const TESTED = join(import.meta.dirname, '../dist/tested');

const IMPORTED = /from '@kiraku\/(server|core)\/([^']+)'/g;
const BUILT = { server: (name) => `dist/${name}.js`, core: (name) => `../core/dist/${name}/index.js` };

/**
 * What tests import of the server as it is built, and of the core, in one file: each file of tests would look for two
 * thousand others, which takes as long as half of the tests.
 */
export async function bundleForTests() {
  const imported = readdirSync(import.meta.dirname, { recursive: true })
    .filter((name) => name.endsWith('.ts'))
    .flatMap((name) => [...readFileSync(join(import.meta.dirname, name), 'utf8').matchAll(IMPORTED)])
    .map(([, room, name]) => ({ part: `${room}/${name}`, built: BUILT[room](name) }));
  const schemas = { part: 'test/apiSchemas', built: 'test/apiSchemas.ts' };
  const parts = [...new Map([schemas, ...imported].map((one) => [one.part, one])).values()];
  await build({
    ...bundle,
    input: Object.fromEntries(parts.map(({ part, built }) => [part, built])),
    output: {
      dir: TESTED,
      entryFileNames: '[name].js',
      chunkFileNames: '[name].js',
      codeSplitting: { groups: [{ name: 'all', test: /./ }] },
      cleanDir: true,
    },
    logLevel: 'silent',
  });
  writeFileSync(join(TESTED, 'parts.js'), namespaces(parts));
  for (const { part } of parts) await writeStub(part);
}

/** All parts by their names. */
const namespaces = (parts) =>
  [
    ...parts.map(({ part }, n) => `import * as part${n} from './${part}.js';`),
    `export const parts = { ${parts.map(({ part }, n) => `'${part}': part${n}`)} };\n`,
  ].join('\n');

/** What a test gets for a part: what the worker has loaded of it. */
async function writeStub(part) {
  const names = Object.keys(await import(join(TESTED, `${part}.js`)));
  const path = join(TESTED, 'stubs', `${part}.js`);
  mkdirSync(dirname(path), { recursive: true });
  writeFileSync(path, `export const { ${names.join(', ')} } = kirakuParts['${part}'];\n`);
}
