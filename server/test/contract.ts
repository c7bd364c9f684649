import { Ajv2020, type ValidateFunction } from 'ajv/dist/2020.js';
import type { OpenAPIObject } from '@nestjs/swagger';

interface Operation {
  responses: Record<string, { content?: Record<string, { schema: object }> }>;
}

interface Route {
  method: string;
  path: RegExp;
  name: string;
  operation: Operation;
}

/** The document itself is not in it. */
const APART = /^\/api\/openapi\.json$/;
/** Responses that come before any route is known. */
const UNROUTED = new Set([401, 403, 404, 405, 421]);

const ajv = new Ajv2020({ strict: false, allErrors: true });
const validators = new Map<string, ValidateFunction>();
const ask = globalThis.fetch;
const desks = new Set<string>();
let routes: Route[] | undefined;
let broken: string[] = [];

afterEach(() => {
  const found = broken;
  broken = [];
  expect(found).toEqual([]);
});

/** From now on, each response of the desk at this address is compared with what its OpenAPI document says. */
export function holdToDocument(url: string, make: () => OpenAPIObject): void {
  desks.add(url);
  if (routes) return;
  const document = make();
  ajv.addSchema({ $id: 'api', ...document });
  routes = Object.entries(document.paths).flatMap(([path, verbs]) =>
    Object.entries(verbs as Record<string, Operation>).map(([verb, operation]) => ({
      method: verb.toUpperCase(),
      path: new RegExp(`^${path.replace(/[.*+?^$()|[\]\\]/g, '\\$&').replace(/\{[^}]+\}/g, '[^/]+')}$`),
      name: `#/paths/${path.replaceAll('/', '~1')}/${verb}`,
      operation,
    })),
  );
  globalThis.fetch = async (input, init) => {
    const response = await ask(input, init);
    const { pathname, origin } = new URL(response.url);
    if (desks.has(origin) && pathname.startsWith('/api/') && !APART.test(pathname))
      await check(init?.method ?? 'GET', pathname, response);
    return response;
  };
}

async function check(method: string, pathname: string, response: Response): Promise<void> {
  const what = `${method} ${pathname}: ${response.status}`;
  // The one that is written out stands before the one with a place for anything.
  const [route] = routes!
    .filter((one) => one.method === method && one.path.test(pathname))
    .sort((a, b) => a.name.split('{').length - b.name.split('{').length);
  if (!route) {
    if (!UNROUTED.has(response.status)) broken.push(`${what}: the document has no such route`);
    return;
  }
  const status = String(response.status);
  const key = status in route.operation.responses ? status : response.ok ? undefined : 'default';
  if (key === undefined) return void broken.push(`${what}: the document has no such status`);
  const content = route.operation.responses[key]!.content ?? {};
  const mediaType = (response.headers.get('content-type') ?? '').replace(/;.*/, '');
  if (mediaType === 'text/event-stream' || method === 'HEAD') return;
  const body = await response.clone().text();
  if (body === '' && Object.keys(content).length === 0) return;
  const said = content[mediaType] ? mediaType : Object.keys(content).find((one) => fits(one, mediaType));
  if (said === undefined) return void broken.push(`${what}: ${mediaType || 'a body'} is not in the document`);
  if (!said.endsWith('json')) return;
  const schema = `${route.name}/responses/${key}/content/${said.replace('/', '~1')}/schema`;
  const validate = validators.get(schema) ?? ajv.compile({ $ref: `api${schema}` });
  validators.set(schema, validate);
  if (!validate(JSON.parse(body))) broken.push(`${what}: ${ajv.errorsText(validate.errors)}`);
}

/** Any picture, or anything, stands for each of them. */
function fits(said: string, mediaType: string): boolean {
  return said === '*/*' || (said.endsWith('/*') && mediaType.startsWith(said.slice(0, -1)));
}
