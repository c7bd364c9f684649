import { statSync } from 'node:fs';

/**
 * Whose a data folder is: what the administrator does in it is done as its owner, else a service that runs under an account of
 * its own could not write to its own files afterwards.
 */
export class Owner {
  /** For `spawn`; empty where this process is no administrator’s. */
  readonly ids: { uid?: number; gid?: number };

  constructor(dataDir: string) {
    const { uid, gid } = statSync(dataDir);
    this.ids = process.getuid?.() === 0 ? { uid, gid } : {};
  }

  async does<T>(work: () => T | Promise<T>): Promise<T> {
    const { uid, gid } = this.ids;
    if (uid === undefined || gid === undefined) return work();
    process.setegid!(gid);
    process.seteuid!(uid);
    try {
      return await work();
    } finally {
      process.seteuid!(0);
      process.setegid!(0);
    }
  }
}
