import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';

/** What is built lies in these, beside what it is built from. */
const ROOMS = ['core', 'server', 'web', 'standin', 'demo', 'bench'];
const NOT_BUILT_FROM = new Set(['node_modules', 'dist', 'test', 'tsconfig.tsbuildinfo']);
/** What is built is of these versions, and by these rules. */
const BESIDES = ['package-lock.json', 'package.json', 'tsconfig.json', 'tsconfig.base.json'];
/** What each part of the build writes: where somebody built a part by themselves, all is built again. */
const WRITTEN = [
  ...['core', 'server', 'standin', 'demo', 'bench'].map((room) => `${room}/tsconfig.tsbuildinfo`),
  'server/dist/bundle/main.js',
  'web/dist/index.html',
];
/** In what is built, so that it goes with that. */
const STAMP = 'server/dist/.built';

/** Whether all is built of these sources, and nobody has built a part of it since. */
export function isBuilt(root, sources) {
  const stamp = join(root, STAMP);
  return existsSync(stamp) && readFileSync(stamp, 'utf8') === `${sources} ${writtenAt(root)}`;
}

/** Notes that all is built of these sources. */
export function noteBuilt(root, sources) {
  mkdirSync(dirname(join(root, STAMP)), { recursive: true });
  writeFileSync(join(root, STAMP), `${sources} ${writtenAt(root)}`);
}

/** A name for all that is built from, as it is now. Reading it takes a tenth of a second. */
export function sourcesNow(root) {
  const hash = createHash('sha256');
  for (const file of [...BESIDES, ...ROOMS.flatMap((room) => sourcesOf(root, room))]) {
    const path = join(root, file);
    if (existsSync(path)) hash.update(`${file}\0`).update(readFileSync(path)).update('\0');
  }
  return hash.digest('hex');
}

function writtenAt(root) {
  return WRITTEN.map((file) => statSync(join(root, file), { throwIfNoEntry: false })?.mtimeMs ?? 0).join(' ');
}

function sourcesOf(root, folder) {
  return readdirSync(join(root, folder), { withFileTypes: true })
    .filter(({ name }) => !NOT_BUILT_FROM.has(name))
    .sort((a, b) => (a.name < b.name ? -1 : 1))
    .flatMap((entry) => {
      const path = `${folder}/${entry.name}`;
      return entry.isDirectory() ? sourcesOf(root, path) : [path];
    });
}
