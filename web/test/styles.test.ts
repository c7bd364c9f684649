import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { basename, dirname, join, relative, resolve } from 'node:path';
import { PALETTES, paletteProperties } from '@kiraku/core/look';

const SRC = resolve('web/src');
const files = readdirSync(SRC, { recursive: true }).map((file) => join(SRC, String(file)));
const sheets = files.filter((file) => file.endsWith('.module.css'));
const code = files.filter((file) => /\.tsx?$/.test(file)).map((file) => ({ file, text: readFileSync(file, 'utf8') }));
const named = (file: string) => relative(SRC, file);

/** The classes that a sheet gives a look to, and those of libraries that it changes. */
function classesOf(sheet: string): { own: Set<string>; foreign: Set<string> } {
  const css = readFileSync(sheet, 'utf8').replace(/\/\*.*?\*\//gs, '');
  const selectors = [...css.matchAll(/([^{}]+)\{/g)]
    .map(([, selector]) => selector!)
    .filter((one) => !/^\s*@/.test(one));
  const foreign = new Set(
    selectors.flatMap((one) => [...one.matchAll(/:global\(\.([\w-]+)\)/g)].map(([, name]) => name!)),
  );
  const local = selectors.map((one) => one.replace(/:global\([^)]*\)/g, ''));
  return {
    own: new Set(local.flatMap((one) => [...one.matchAll(/\.([A-Za-z]\w*)/g)].map(([, name]) => name!))),
    foreign,
  };
}

/** Which classes of which sheet a file of code uses. */
const uses = code.flatMap(({ file, text }) =>
  [...text.matchAll(/^import (\w+) from '(\.[^']+\.module\.css)';/gm)].map(([, name, path]) => ({
    file,
    sheet: resolve(dirname(file), path!),
    classes: new Set([...text.matchAll(new RegExp(`\\b${name}\\.(\\w+)`, 'g'))].map(([, used]) => used!)),
  })),
);

test('each class that is used has a look, and each that has one is used', () => {
  const faults: string[] = [];
  for (const sheet of sheets) {
    const { own } = classesOf(sheet);
    const users = uses.filter((use) => use.sheet === sheet);
    for (const { file, classes } of users)
      for (const used of classes) if (!own.has(used)) faults.push(`${named(file)}: no ${used} in ${named(sheet)}`);
    for (const name of own)
      if (!users.some(({ classes }) => classes.has(name))) faults.push(`${named(sheet)}: nothing is ${name}`);
  }
  expect(faults).toEqual([]);
});

test('what is named by itself is of the one sheet for every page', () => {
  const common = readFileSync(join(SRC, 'app/base.css'), 'utf8');
  const faults = code.flatMap(({ file, text }) =>
    [...text.matchAll(/className=(?:"([^"]*)"|\{`([^`]*)`\})/g)]
      .flatMap(([, plain, template]) => (plain ?? template!.replace(/\$\{[^}]*\}/g, '…')).split(' '))
      .filter(
        (name) => name !== '…' && name !== 'tone-…' && !common.includes(`.${name} {`) && !common.includes(`.${name},`),
      )
      .map((name) => `${named(file)}: ${name}`),
  );
  expect(faults).toEqual([]);
});

test('a sheet belongs to its own folder, or to all', () => {
  for (const { file, sheet } of uses) {
    expect(existsSync(sheet)).toBe(true);
    const owner = dirname(named(sheet));
    if (owner !== 'shared/ui') expect(`${named(file)} of ${dirname(named(file))}`).toBe(`${named(file)} of ${owner}`);
  }
});

test('classes are called on the page by the names of their sheets, so no two sheets share one', () => {
  expect(new Set(sheets.map((sheet) => basename(sheet))).size).toBe(sheets.length);
});

test('only libraries’ classes are changed from outside, and one sheet alone is for every page', () => {
  const foreign = sheets.flatMap((sheet) => [...classesOf(sheet).foreign]);
  expect(foreign.filter((name) => !/^(ant-|ProseMirror-|selection$)/.test(name))).toEqual([]);
  expect(files.filter((file) => file.endsWith('.css') && !file.endsWith('.module.css')).map(named)).toEqual([
    'app/base.css',
  ]);
});

test('every colour is of the palette', () => {
  const styled = [...files, ...readdirSync(resolve('web/viewer/src')).map((file) => resolve('web/viewer/src', file))];
  const coloured = styled.filter(
    (file) => /\.(css|tsx?)$/.test(file) && /#(?:[\da-f]{3}){1,2}\b/i.test(readFileSync(file, 'utf8')),
  );
  expect(coloured.map(named)).toEqual([]);
  const icon = readFileSync(resolve('web/public/mark.svg'), 'utf8').match(/#[\da-f]{6}/gi)!;
  expect(
    icon.map((colour) => colour.toLowerCase()).filter((colour) => !Object.values(PALETTES.light).includes(colour)),
  ).toEqual([]);
});

test('each custom property that is used is one of the palette, or is set', () => {
  const css = files
    .filter((file) => file.endsWith('.css'))
    .map((file) => readFileSync(file, 'utf8'))
    .concat(code.map(({ text }) => text));
  const found = (pattern: RegExp) => css.flatMap((text) => [...text.matchAll(pattern)].map(([, name]) => name!));
  const set = new Set([
    ...paletteProperties('light').map(([name]) => name),
    ...found(/(--[a-z-]+)['"]?\]?:/g),
    ...found(/setProperty\('(--[a-z-]+)'/g),
  ]);
  expect(found(/var\((--[a-z-]+)/g).length).toBeGreaterThan(100);
  expect(found(/var\((--[a-z-]+)/g).filter((name) => !set.has(name))).toEqual([]);
});

test('what the system shows of an installed Kiraku has the colours of its paper', () => {
  const { paper } = PALETTES.light;
  const read = (name: string) => readFileSync(resolve('web', name), 'utf8');
  const manifest = JSON.parse(read('public/manifest.webmanifest')) as Record<string, string>;
  expect([manifest['theme_color'], manifest['background_color']]).toEqual([paper, paper]);
  expect(read('index.html')).toContain(`<meta name="theme-color" content="${paper}"`);
});
