import { TestEnvironment } from 'jest-environment-jsdom';

const ORIGIN = 'http://127.0.0.1/';

/** A document as a browser has it, with Node's own requests and responses: jsdom has none. */
export default class PageEnvironment extends TestEnvironment {
  async setup() {
    await super.setup();
    Object.assign(this.global, {
      fetch: () => Promise.reject(new TypeError('No network here: see network.ts')),
      Headers,
      Response,
      BroadcastChannel,
      ReadableStream,
      structuredClone,
      TextDecoder,
      TextEncoder,
      Request: class extends Request {
        constructor(input, init) {
          // Of a document's own signal Node's class knows nothing.
          const { signal: _signal, ...rest } = init ?? {};
          super(typeof input === 'string' ? new URL(input, ORIGIN) : input, rest);
        }
      },
    });
  }
}
