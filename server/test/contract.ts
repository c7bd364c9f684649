import type { OpenAPIObject } from '@nestjs/swagger';
import { complaintOf, isPublished, publish } from './apiSchemas.js';

/** The document itself is not in it. */
const APART = /^\/api\/openapi\.json$/;

const ask = globalThis.fetch;
const desks = new Set<string>();
let complaints: (string | null)[] = [];

afterEach(() => {
  const found = complaints;
  complaints = [];
  expect(found.filter(Boolean)).toEqual([]);
});

/** From now on, each response of the desk at this address is compared with what its OpenAPI document says. */
export function holdToDocument(url: string, make: () => OpenAPIObject): void {
  if (!isPublished()) publish(make());
  if (desks.size === 0) globalThis.fetch = askAndCompare;
  desks.add(url);
}

const askAndCompare: typeof fetch = async (input, init) => {
  const response = await ask(input, init);
  const { pathname, origin } = new URL(response.url);
  if (desks.has(origin) && pathname.startsWith('/api/') && !APART.test(pathname))
    complaints.push(await complaintOf(init?.method ?? 'GET', pathname, response));
  return response;
};
