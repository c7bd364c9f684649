import {
  cpSync,
  existsSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { ROOT } from '../lib/steps.mjs';
import { mutated, mutationsOf, randomFrom } from './mutate.mjs';
import { passes } from './passes.mjs';

const SOURCES = join(ROOT, 'core/src');
/** What says what is passed between server and page: types, and lists that both are built from. */
const NOT_MUTATED = new Set(['contract']);
/** A mutant that never comes to its end has been noticed. */
const MAX_CORE_TEST_MS = 60_000;
const MAX_ALL_TESTS_MS = 600_000;

/** Where one mutant at a time is tried: a copy of the core beside the same packages. */
class Bench {
  constructor() {
    this.folder = mkdtempSync(join(tmpdir(), 'kiraku-mutants-'));
    for (const part of ['core/src', 'core/test', 'core/package.json', 'jest.config.mjs', 'package.json'])
      cpSync(join(ROOT, part), join(this.folder, part), { recursive: true });
    for (const packages of ['node_modules', 'core/node_modules'].filter((path) => existsSync(join(ROOT, path))))
      symlinkSync(join(ROOT, packages), join(this.folder, packages));
  }

  /** Without any mutation everything must pass: else every mutant would seem to be noticed. */
  async check() {
    const files = foldersOf().flatMap((folder) => sourcesOf(folder).map((name) => join(folder, name)));
    const sources = files.map((file) => join(this.folder, 'core/src', file));
    if (!(await this.passes(sources, MAX_ALL_TESTS_MS)))
      throw new Error('The tests of the core do not pass as they are.');
  }

  /** Whether some test of the core notifications a mutation. */
  async isNoticed({ file, source, mutation }) {
    const path = join(this.folder, 'core/src', file);
    writeFileSync(path, mutated(source, mutation));
    try {
      return !(await this.passes([path], MAX_CORE_TEST_MS));
    } finally {
      writeFileSync(path, source);
    }
  }

  passes(paths, maxMs) {
    const args = ['--selectProjects', 'core', '--bail', '--runInBand', '--silent', '--forceExit', '--findRelatedTests'];
    return passes(this.folder, [...args, ...paths], maxMs);
  }

  close() {
    rmSync(this.folder, { recursive: true });
  }
}

/**
 * Tries a seeded sample of mutants of the core, so many of each folder, and calls back with each.
 *
 * @param {{ perFolder: number, seed: number, only?: string[], atOnce: number, tell: (text: string) => void }} options
 * @returns {Promise<Map<string, { noticed: number, tried: number }>>} by folder
 */
export async function tryCore({ perFolder, seed, only, atOnce, tell }) {
  const random = randomFrom(seed);
  const queue = foldersOf()
    .filter((folder) => !only?.length || only.includes(folder))
    .flatMap((folder) => sampled(mutantsOf(folder), perFolder, random));
  const scores = new Map();
  await Promise.all(
    Array.from({ length: atOnce }, async () => {
      const bench = new Bench();
      await bench.check();
      for (let next = queue.shift(); next; next = queue.shift()) {
        const isNoticed = await bench.isNoticed(next);
        const folder = dirname(next.file);
        const score = scores.get(folder) ?? { noticed: 0, tried: 0 };
        scores.set(folder, { noticed: score.noticed + Number(isNoticed), tried: score.tried + 1 });
        if (!isNoticed) tell(`survived: core/src/${next.file}:${lineOf(next)} ${next.mutation.what}`);
      }
      bench.close();
    }),
  );
  return scores;
}

function foldersOf() {
  return readdirSync(SOURCES, { withFileTypes: true })
    .filter((entry) => entry.isDirectory() && !NOT_MUTATED.has(entry.name))
    .map(({ name }) => name);
}

function sourcesOf(folder) {
  return readdirSync(join(SOURCES, folder)).filter((name) => name.endsWith('.ts') && name !== 'index.ts');
}

function mutantsOf(folder) {
  return sourcesOf(folder).flatMap((name) => {
    const file = `${folder}/${name}`;
    const source = readFileSync(join(SOURCES, file), 'utf8');
    return mutationsOf(source).map((mutation) => ({ file, source, mutation }));
  });
}

/** So many at random, each at most once. */
function sampled(all, count, random) {
  const rest = [...all];
  const chosen = [];
  while (chosen.length < count && rest.length > 0) chosen.push(...rest.splice(Math.floor(random() * rest.length), 1));
  return chosen;
}

function lineOf({ source, mutation }) {
  return source.slice(0, mutation.start).split('\n').length;
}
