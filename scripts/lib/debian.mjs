import { existsSync } from 'node:fs';
import { run } from './steps.mjs';

const isRoot = process.getuid?.() === 0;
const isDebian = existsSync('/etc/debian_version');

/**
 * Sees to it that a program from Debian's packages (one, or several with blanks between) is there: installs it where this is root on Debian, and says
 * clearly what is missing elsewhere. Returns whether it can be used.
 */
export async function ensureProgram(path, debianPackages, whatFor) {
  if (existsSync(path)) return true;
  if (isRoot && isDebian) {
    console.log(`Installing ${debianPackages}: ${whatFor} …`);
    const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
    await run('apt-get', ['update'], { quiet: true, env }).catch(() => undefined);
    await run('apt-get', ['install', '-y', '--no-install-recommends', ...debianPackages.split(' ')], {
      quiet: true,
      env,
    }).catch((error) => console.error(error.message));
    if (existsSync(path)) return true;
  }
  console.log(
    `\n*** SKIPPED: ${whatFor}. ${path} is missing; install ${debianPackages} with your system’s packages. ***\n`,
  );
  return false;
}
