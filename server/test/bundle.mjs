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
    .map(([, room, name]) => ({ path: `${room}/${name}`, built: BUILT[room](name) }));
  const schemas = { path: 'test/apiSchemas', built: 'test/apiSchemas.ts' };
  const modules = [...new Map([schemas, ...imported].map((one) => [one.path, one])).values()];
  await build({
    ...bundle,
    input: Object.fromEntries(modules.map(({ path, built }) => [path, built])),
    output: {
      dir: TESTED,
      entryFileNames: '[name].js',
      chunkFileNames: '[name].js',
      codeSplitting: { groups: [{ name: 'all', test: /./ }] },
      cleanDir: true,
    },
    logLevel: 'silent',
  });
  writeFileSync(join(TESTED, 'modules.js'), namespaces(modules));
  for (const { path } of modules) await writeStub(path);
}

/** All of them by their paths. */
const namespaces = (modules) =>
  [
    ...modules.map(({ path }, n) => `import * as module${n} from './${path}.js';`),
    `export const modules = { ${modules.map(({ path }, n) => `'${path}': module${n}`)} };\n`,
  ].join('\n');

/** What a test imports as a module: what the worker has loaded of it. */
async function writeStub(path) {
  const names = Object.keys(await import(join(TESTED, `${path}.js`)));
  const stub = join(TESTED, 'stubs', `${path}.js`);
  mkdirSync(dirname(stub), { recursive: true });
  writeFileSync(stub, `export const { ${names.join(', ')} } = kirakuModules['${path}'];\n`);
}
