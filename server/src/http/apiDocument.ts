import { readFileSync } from 'node:fs';
import type { INestApplication } from '@nestjs/common';
import { DocumentBuilder, SwaggerModule, type OpenAPIObject } from '@nestjs/swagger';
import { MEDIA_TYPE } from './sends.js';

type Schema = Record<string, unknown>;
type Operation = NonNullable<OpenAPIObject['paths'][string]['get']>;

/** By the name of an operation its schema, among those of which it is made; and the operations that return nothing. */
interface Responses {
  schemas: Record<string, Schema>;
  empty: string[];
}

const VERBS = ['get', 'head', 'post', 'put', 'patch', 'delete'] as const;
const DESCRIPTION = new DocumentBuilder()
  .setOpenAPIVersion('3.1.0')
  .setTitle('Kiraku')
  .setDescription('The desk. Errors are problem details (RFC 9457). Sign in with POST /api/session; it sets a cookie.')
  .setVersion('1')
  .addCookieAuth('kiraku_session')
  .build();
const PROBLEM = {
  description: 'What is wrong, and how to mend it',
  content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
};

/**
 * The whole API as an OpenAPI document (3.1). Requests are as their classes say; what is returned is as the methods of the
 * controllers do, which the build has written down as schemas.
 *
 * @throws where a route says neither which schema nor which media type it returns
 */
export function apiDocument(app: INestApplication): OpenAPIObject {
  const document = SwaggerModule.createDocument(app, DESCRIPTION);
  const responses = responsesOfRoutes();
  const schemas = { ...nullable(document.components?.schemas), ...responses.schemas };
  document.components = { ...document.components, schemas };
  document.paths = nullable(document.paths);
  for (const path of Object.values(document.paths))
    for (const verb of VERBS) if (path[verb]) describe(path[verb], responses);
  return document;
}

function describe(operation: Operation, { schemas, empty }: Responses): void {
  const name = operation.operationId!;
  const [status] = Object.keys(operation.responses).filter((code) => code.startsWith('2'));
  const success = operation.responses[status!] as { description: string; content?: Record<string, { schema: Schema }> };
  success.description ||= operation.summary ?? '';
  success.content ??= contentOf(name, operation as unknown as Record<string, unknown>, { schemas, empty });
  operation.responses['default'] = PROBLEM;
}

function contentOf(name: string, operation: Record<string, unknown>, { schemas, empty }: Responses) {
  const mediaType = operation[MEDIA_TYPE];
  if (typeof mediaType === 'string') return { [mediaType]: { schema: { type: 'string' } } };
  if (schemas[name]) return { 'application/json': { schema: { $ref: `#/components/schemas/${name}` } } };
  if (empty.includes(name)) return {};
  throw new Error(`${name} says neither what it returns nor of which media type that is`);
}

/** Written by the build, beside the parts and a folder above the bundle. */
function responsesOfRoutes(): Responses {
  const text = readFileSync(new URL('../responses.json', import.meta.url), 'utf8');
  return JSON.parse(text.replaceAll('#/definitions/', '#/components/schemas/')) as Responses;
}

/** `nullable` of OpenAPI 3.0 as JSON Schema, which 3.1 uses, has it: a type of its own. */
function nullable<T>(value: T): T {
  if (Array.isArray(value)) return value.map(nullable) as T;
  if (typeof value !== 'object' || value === null) return value;
  const { nullable: isNullable, ...rest } = Object.fromEntries(
    Object.entries(value).map(([key, one]) => [key, nullable<unknown>(one)]),
  );
  if (isNullable !== true) return (isNullable === undefined ? rest : { ...rest, nullable: isNullable }) as T;
  return (
    typeof rest['type'] === 'string' ? { ...rest, type: [rest['type'], 'null'] } : { anyOf: [rest, { type: 'null' }] }
  ) as T;
}
