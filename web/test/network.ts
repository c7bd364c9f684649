import { jest } from '@jest/globals';

export interface Asked {
  method: string;
  path: string;
  body: unknown;
  /** Responds with JSON. */
  respond(body: unknown, status?: number): Promise<void>;
  /** The network fails. */
  fail(): Promise<void>;
}

/** What the page asks the server for, in order; each request waits for its response. */
export class Network {
  readonly asked: Asked[] = [];

  constructor() {
    globalThis.fetch = jest.fn<typeof fetch>(async (input, init) => {
      const request = input instanceof Request ? input : new Request(input as string, init);
      const text = await request.text();
      return new Promise<Response>((resolve, reject) => {
        const { pathname, search } = new URL(request.url);
        this.asked.push({
          method: request.method,
          path: pathname + search,
          body: text === '' ? undefined : JSON.parse(text),
          respond: async (body, status = 200) => {
            resolve(new Response(JSON.stringify(body), { status, headers: { 'content-type': 'application/json' } }));
            await settled();
          },
          fail: async () => {
            reject(new TypeError('Failed to fetch'));
            await settled();
          },
        });
      });
    });
  }

  /** The request for a path, of those that the page has made. */
  async asks(path: string): Promise<Asked> {
    await settled();
    const index = this.asked.findIndex((one) => one.path.split('?')[0] === path);
    if (index < 0) throw new Error(`Not asked for ${path}, but for ${this.asked.map((one) => one.path).join(', ')}`);
    return this.asked.splice(index, 1)[0]!;
  }

  /** The next request that nobody has looked at yet. */
  async next(): Promise<Asked> {
    for (let turns = 0; this.asked.length === 0 && turns < 50; turns += 1) await settled();
    const next = this.asked.shift();
    if (!next) throw new Error('Nothing was asked for');
    return next;
  }
}

/** Lets everything that is ready go on, timers aside. */
export async function settled(): Promise<void> {
  for (let turns = 0; turns < 20; turns += 1) await Promise.resolve();
  await new Promise((resolve) => setTimeout(resolve, 0));
}
