import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { ROOT } from '../lib/steps.mjs';

const JEST = join(ROOT, 'node_modules/jest/bin/jest.js');

/**
 * Whether tests pass. Those that take too long have noticed something.
 *
 * @param {string} folder where they are run
 * @param {readonly string[]} args of Jest
 * @param {number} maxMs
 * @returns {Promise<boolean>}
 */
export function passes(folder, args, maxMs) {
  const all = ['--experimental-vm-modules', JEST, ...args];
  const child = spawn(process.execPath, all, {
    cwd: folder,
    env: { ...process.env, NODE_NO_WARNINGS: '1', NODE_OPTIONS: '' },
    stdio: 'ignore',
  });
  const timer = setTimeout(() => child.kill('SIGKILL'), maxMs);
  return new Promise((resolve) =>
    child.on('close', (code) => {
      clearTimeout(timer);
      resolve(code === 0);
    }),
  );
}
