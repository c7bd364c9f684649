import { ModernFakeTimers } from '@jest/fake-timers';
import { TestEnvironment } from 'jest-environment-node';

/** What is one and the same for tests and server, so that each knows the other's: a number, a text or a list is so anyway. */
const SHARED = { Date, Error, Map, Promise, RangeError, Set, TypeError };

/**
 * Where server tests run. Jest gives each file of tests globals and modules of its own; the server, which is far larger
 * than they are, is loaded once for all files of a worker, and is as warm in the last as it is in use.
 */
export default class ServerEnvironment extends TestEnvironment {
  constructor(config, context) {
    super(config, context);
    // A test that sets the time sets the server's.
    this.fakeTimersModern = new ModernFakeTimers({ config: config.projectConfig, global: globalThis });
  }

  async setup() {
    await super.setup();
    const { modules } = await import('../dist/tested/modules.js');
    Object.assign(this.global, SHARED, { kirakuModules: modules });
    this.global.process.env = process.env;
  }
}
