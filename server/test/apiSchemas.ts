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

/** Responses that come before any route is known. */
const UNROUTED = new Set([401, 403, 404, 405, 421]);

const ajv = new Ajv2020({ strict: false, allErrors: true });
const validators = new Map<string, ValidateFunction>();
let routes: Route[] | undefined;

/** Whether the document is known already. */
export const isPublished = (): boolean => routes !== undefined;

/** Takes the document that responses are compared with. It is the same for all files of tests, and its checks dear. */
export function publish(document: OpenAPIObject): void {
  ajv.addSchema({ $id: 'api', ...document });
  routes = Object.entries(document.paths).flatMap(([path, verbs]) =>
    Object.entries(verbs as Record<string, Operation>).map(([verb, operation]) => ({
      method: verb.toUpperCase(),
      path: new RegExp(`^${path.replace(/[.*+?^$()|[\]\\]/g, '\\$&').replace(/\{[^}]+\}/g, '[^/]+')}$`),
      name: `#/paths/${path.replaceAll('/', '~1')}/${verb}`,
      operation,
    })),
  );
}

/** What of a response the document does not say; null where it says all of it. */
export async function complaintOf(method: string, pathname: string, response: Response): Promise<string | null> {
  const what = `${method} ${pathname}: ${response.status}`;
  // The one that is written out stands before the one with a place for anything.
  const [route] = routes!
    .filter((one) => one.method === method && one.path.test(pathname))
    .sort((a, b) => a.name.split('{').length - b.name.split('{').length);
  if (!route) return UNROUTED.has(response.status) ? null : `${what}: the document has no such route`;
  const status = String(response.status);
  const key = status in route.operation.responses ? status : response.ok ? undefined : 'default';
  if (key === undefined) return `${what}: the document has no such status`;
  const content = route.operation.responses[key]!.content ?? {};
  const mediaType = (response.headers.get('content-type') ?? '').replace(/;.*/, '');
  if (mediaType === 'text/event-stream' || method === 'HEAD') return null;
  const body = await response.clone().text();
  if (body === '' && Object.keys(content).length === 0) return null;
  const said = content[mediaType] ? mediaType : Object.keys(content).find((one) => fits(one, mediaType));
  if (said === undefined) return `${what}: ${mediaType || 'a body'} is not in the document`;
  if (!said.endsWith('json')) return null;
  const schema = `${route.name}/responses/${key}/content/${said.replace('/', '~1')}/schema`;
  const validate = validators.get(schema) ?? ajv.compile({ $ref: `api${schema}` });
  validators.set(schema, validate);
  return validate(JSON.parse(body)) ? null : `${what}: ${ajv.errorsText(validate.errors)}`;
}

/** Any picture, or anything, stands for each of them. */
function fits(said: string, mediaType: string): boolean {
  return said === '*/*' || (said.endsWith('/*') && mediaType.startsWith(said.slice(0, -1)));
}
