import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import ts from 'typescript';

const ROOT = join(dirname(fileURLToPath(import.meta.url)), '../..');
/** Old words of the page as patterns, and old names of the code, each with what replaced it. */
const { words, names } = JSON.parse(readFileSync(join(ROOT, 'scripts/vocabulary.json'), 'utf8')) as Record<
  'words' | 'names',
  Record<string, string>
>;
const PARTS = ['core', 'server', 'web', 'standin', 'demo', 'e2e', 'bench', 'scripts', 'docs'];
/** What is made, what keeps old data, and the few places whose matter the old names are. */
const LEFT_OUT =
  /(^|\/)(node_modules|dist|build|fixtures|migrations|mail|\.[^/]+)(\/|$)|vocabulary\.|oldAddress|migration\.test/;

function filesOf(folder: string): string[] {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    const path = join(folder, entry.name);
    if (LEFT_OUT.test(relative(ROOT, path))) return [];
    return entry.isDirectory() ? filesOf(path) : /\.(tsx?|mjs|css|md)$/.test(path) ? [path] : [];
  });
}

const FILES = [
  ...PARTS.flatMap((part) => filesOf(join(ROOT, part))),
  ...['README.md', 'CONTRIBUTING.md'].map((name) => join(ROOT, name)),
];
const WORDS = Object.entries(words).map(([pattern, now]) => ({
  pattern: new RegExp(`\\b(?:${pattern})\\b`, 'i'),
  now,
}));
const NAMES = new Map(Object.entries(names));

/** Each old word in a text, with what replaced it. */
function oldWordsIn(text: string): string[] {
  return WORDS.flatMap(({ pattern, now }) => {
    const found = pattern.exec(text);
    return found ? [`“${found[0]}” is now “${now}”`] : [];
  });
}

function parsed(path: string): ts.SourceFile {
  const kind = path.endsWith('x') ? ts.ScriptKind.TSX : ts.ScriptKind.TS;
  return ts.createSourceFile(path, readFileSync(path, 'utf8'), ts.ScriptTarget.Latest, true, kind);
}

/** The texts of a file that somebody may read: words between tags, and strings of more than one word or with a capital. */
function proseOf(source: ts.SourceFile): string[] {
  const texts: string[] = [];
  const visit = (node: ts.Node): void => {
    if (ts.isImportDeclaration(node) || ts.isExportDeclaration(node)) return;
    if (ts.isJsxAttribute(node) && node.name.getText() === 'className') return;
    if (ts.isJsxText(node)) texts.push(node.text);
    if (ts.isStringLiteralLike(node) && /\w\s+\w|^[A-Z“][a-z]/.test(node.text)) texts.push(node.text);
    if (ts.isTemplateExpression(node))
      texts.push([node.head, ...node.templateSpans.map((one) => one.literal)].map((one) => one.text).join('…'));
    ts.forEachChild(node, visit);
  };
  visit(source);
  return texts;
}

test('the sources are found', () => {
  expect(FILES.length).toBeGreaterThan(500);
});

test('no name is one that was replaced', () => {
  const found = FILES.flatMap((path) =>
    readFileSync(path, 'utf8')
      .split('\n')
      .flatMap((line, index) =>
        (line.match(/[A-Za-z_]\w*/g) ?? [])
          .filter((name) => NAMES.has(name))
          .map((name) => `${relative(ROOT, path)}:${index + 1} “${name}” is now “${NAMES.get(name)}”`),
      ),
  );
  expect(found).toEqual([]);
});

test('nothing that somebody may read is in words that were replaced', () => {
  const found = FILES.filter((path) => /^(core|server|web|standin)\/(src|worker|viewer)\//.test(relative(ROOT, path)))
    .filter((path) => /\.tsx?$/.test(path))
    .flatMap((path) =>
      proseOf(parsed(path)).flatMap((text) =>
        oldWordsIn(text).map((what) => `${relative(ROOT, path)}: ${what} in “${text.trim().slice(0, 100)}”`),
      ),
    );
  expect(found).toEqual([]);
});

test('a limit has one value wherever it is named', () => {
  const values = new Map<string, Map<string, string>>();
  for (const path of FILES.filter((one) => !/\/tests?\//.test(one) && !/\.(css|md)$/.test(one)))
    for (const statement of parsed(path).statements) {
      if (!ts.isVariableStatement(statement)) continue;
      for (const { name, initializer } of statement.declarationList.declarations) {
        if (!/^(MAX|MIN)_|_(MS|BYTES|CHARS|COUNT)$/.test(name.getText()) || !initializer) continue;
        const known = values.get(name.getText()) ?? new Map<string, string>();
        values.set(name.getText(), known.set(initializer.getText().replace(/\s+/g, ' '), relative(ROOT, path)));
      }
    }
  expect(values.size).toBeGreaterThan(50);
  const several = [...values].filter(([, known]) => known.size > 1);
  expect(several.map(([name, known]) => `${name}: ${[...known].map((one) => one.join(' in ')).join(', ')}`)).toEqual(
    [],
  );
});
