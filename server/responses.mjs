/**
 * Writes down what each route answers with, as JSON Schema: the compiler knows it from the methods of the controllers,
 * so that it is said once. Run after the compiler; the server puts it into its OpenAPI document.
 */
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import ts from 'typescript';
import { createGenerator } from 'ts-json-schema-generator';

const HERE = dirname(fileURLToPath(import.meta.url));
const ROUTES = new Set(['Get', 'Head', 'Post', 'Put', 'Patch', 'Delete']);
/** What says nothing of a JSON body. */
const NO_JSON = /^(void|string|StreamableFile)$/;
const PROBLEM = "export type { Problem } from '@kiraku/core/contract';\n";

/** The routes of a controller: by `Controller_method`, as the document calls them, what the method returns. */
function routesOf(file) {
  const source = ts.createSourceFile(file, readFileSync(file, 'utf8'), ts.ScriptTarget.Latest, true);
  const imports = source.statements.filter(ts.isImportDeclaration).filter(isOfCore);
  const routes = [];
  for (const controller of source.statements.filter(ts.isClassDeclaration))
    for (const method of controller.members.filter(ts.isMethodDeclaration)) {
      const decorators = (ts.getDecorators(method) ?? []).map(({ expression }) => expression);
      if (!decorators.some((call) => ROUTES.has(call.expression.getText()))) continue;
      const name = `${controller.name.text}_${method.name.getText()}`;
      if (!method.type) throw new Error(`${name} does not say what it returns`);
      routes.push({ name, type: method.type.getText().replace(/^Promise<(.*)>$/s, '$1') });
    }
  return { imports: imports.map((one) => one.getText()), routes };
}

function isOfCore({ moduleSpecifier }) {
  return moduleSpecifier.text.startsWith('@kiraku/core/');
}

/** The type of each route as an exported one: a file each, since they import by the same names. */
function written(folder, { imports, routes }, index) {
  const types = routes.filter(({ type }) => !NO_JSON.test(type));
  const path = join(folder, `routes${index}.ts`);
  writeFileSync(path, [...imports, ...types.map(({ name, type }) => `export type ${name} = ${type};`)].join('\n'));
  return types.map(({ name }) => name);
}

const folder = mkdtempSync(join(HERE, 'dist/routes-'));
try {
  const files = readdirSync(join(HERE, 'src'), { recursive: true }).filter((file) => file.endsWith('.controller.ts'));
  const controllers = files.sort().map((file) => routesOf(join(HERE, 'src', file)));
  const names = controllers.flatMap((controller, index) => written(folder, controller, index));
  writeFileSync(join(folder, 'problem.ts'), PROBLEM);
  writeFileSync(join(folder, 'tsconfig.json'), JSON.stringify({ extends: '../../tsconfig.json', include: ['*.ts'] }));
  const generator = createGenerator({
    path: join(folder, '*.ts'),
    tsconfig: join(folder, 'tsconfig.json'),
    type: '*',
    skipTypeCheck: true,
    topRef: true,
  });
  const { definitions } = generator.createSchema('*');
  const missing = names.filter((name) => !definitions[name]);
  if (missing.length > 0) throw new Error(`No schema for ${missing.join(', ')}`);
  const empty = controllers.flatMap(({ routes }) =>
    routes.filter(({ type }) => type === 'void').map(({ name }) => name),
  );
  writeFileSync(join(HERE, 'dist/responses.json'), JSON.stringify({ schemas: definitions, empty }));
} finally {
  rmSync(folder, { recursive: true });
}
