import { mkdirSync, mkdtempSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';

interface Built {
  isBuilt(root: string, sources: string): boolean;
  noteBuilt(root: string, sources: string): void;
  sourcesNow(root: string): string;
}

const { isBuilt, noteBuilt, sourcesNow } = (await import(
  String(new URL('../../scripts/lib/built.mjs', import.meta.url))
)) as Built;

let root: string;
const write = (file: string, text: string) => {
  mkdirSync(dirname(join(root, file)), { recursive: true });
  writeFileSync(join(root, file), text);
};
const isUpToDate = () => isBuilt(root, sourcesNow(root));

beforeEach(() => {
  root = mkdtempSync(join(tmpdir(), 'kiraku-built-'));
  for (const room of ['core', 'server', 'web', 'standin', 'demo', 'bench']) write(`${room}/src/index.ts`, room);
  for (const file of ['server/dist/bundle/main.js', 'web/dist/index.html', 'core/tsconfig.tsbuildinfo'])
    write(file, '1');
});
afterEach(() => rmSync(root, { recursive: true }));

test('nothing is built twice of the same sources', () => {
  expect(isUpToDate()).toBe(false);
  noteBuilt(root, sourcesNow(root));
  expect(isUpToDate()).toBe(true);
  // Written anew, the same; tests, and what is built, are no sources.
  write('core/src/index.ts', 'core');
  write('server/test/some.test.ts', 'changed');
  write('server/dist/app.js', 'changed');
  expect(isUpToDate()).toBe(true);
});

test.each<[string, () => void]>([
  ['a source is changed', () => write('web/src/index.ts', 'changed')],
  ['one is new', () => write('server/src/rounds/new.ts', '')],
  ['one is gone', () => rmSync(join(root, 'bench/src/index.ts'))],
  ['one is called otherwise', () => (rmSync(join(root, 'demo/src/index.ts')), write('demo/src/main.ts', 'demo'))],
  ['packages are of other versions', () => write('package-lock.json', '{}')],
  ['a part was built by itself', () => utimesSync(join(root, 'server/dist/bundle/main.js'), 1, 1)],
  ['what was built is deleted', () => rmSync(join(root, 'web/dist'), { recursive: true })],
  ['all of it is', () => rmSync(join(root, 'server/dist'), { recursive: true })],
])('all is built again when %s', (_, change) => {
  noteBuilt(root, sourcesNow(root));
  change();
  expect(isUpToDate()).toBe(false);
});

test('what is changed while it is built is built next time', () => {
  const sources = sourcesNow(root);
  write('core/src/index.ts', 'changed meanwhile');
  noteBuilt(root, sources);
  expect(isUpToDate()).toBe(false);
});
