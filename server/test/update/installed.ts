import { execFileSync } from 'node:child_process';
import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const ROOT = fileURLToPath(new URL('../../../', import.meta.url));
/** What making a version ready leaves beside its sources: here what was built already, and the packages that there are. */
const READY = `import { cpSync, symlinkSync } from 'node:fs';
for (const part of ['server/dist/bundle', 'server/dist/responses.json', 'server/dist/hostedNetworks.bin', 'web/dist']) cpSync(${JSON.stringify(ROOT)} + part, part, { recursive: true });
for (const part of ['node_modules', 'server/node_modules']) symlinkSync(${JSON.stringify(ROOT)} + part, part);
`;
const FILES = { 'scripts/prepare.mjs': READY, '.gitignore': 'node_modules\ndist/\n.update/\n', 'web/page.txt': '' };

/** Of a version, and what it has otherwise than the one before. */
export interface Version {
  version: string;
  files?: Record<string, string>;
  /** What is done after it has been built. */
  thenReady?: string;
}

/** Kiraku as somebody has it installed: a checkout that follows a repository, in which new versions appear. */
export class Installed {
  private readonly folder = mkdtempSync(join(tmpdir(), 'kiraku-update-'));
  private readonly repository = join(this.folder, 'repository');
  /** Where the program lies. */
  readonly root = join(this.folder, 'kiraku');

  constructor() {
    mkdirSync(this.repository);
    this.git(this.repository, 'init', '--quiet', '--initial-branch=main');
    cpSync(join(ROOT, 'server/migrations'), join(this.repository, 'server/migrations'), { recursive: true });
    this.publish({ version: '1.0.0', files: FILES });
    this.git(this.folder, 'clone', '--quiet', this.repository, this.root);
    execFileSync(process.execPath, ['scripts/prepare.mjs'], { cwd: this.root });
  }

  publish({ version, files = {}, thenReady = '' }: Version): void {
    const about = JSON.stringify({ name: 'kiraku', type: 'module', version });
    const all = { 'package.json': about, 'server/package.json': about, ...files };
    for (const [file, text] of Object.entries({ ...all, 'scripts/prepare.mjs': READY + thenReady })) {
      mkdirSync(dirname(join(this.repository, file)), { recursive: true });
      writeFileSync(join(this.repository, file), text);
    }
    this.git(this.repository, 'add', '--all');
    this.git(this.repository, 'commit', '--quiet', '--message', version);
  }

  /** Takes the newest version back. */
  withdraw(): void {
    this.git(this.repository, 'reset', '--quiet', '--hard', 'HEAD~1');
  }

  /** A folder with the newest version, as one that came by another way than git. */
  unpacked(): string {
    const folder = join(this.folder, 'unpacked');
    this.git(this.folder, 'clone', '--quiet', this.repository, folder);
    rmSync(join(folder, '.git'), { recursive: true });
    rmSync(join(this.root, '.git'), { recursive: true });
    return folder;
  }

  version(): string {
    return (JSON.parse(readFileSync(join(this.root, 'package.json'), 'utf8')) as { version: string }).version;
  }

  /** What git finds changed; empty where the files are those of the commit. */
  changes(): string {
    return this.git(this.root, 'status', '--porcelain');
  }

  remove(): void {
    rmSync(this.folder, { recursive: true });
  }

  private git(folder: string, ...args: string[]): string {
    const who = ['-c', 'user.name=Kiraku', '-c', 'user.email=kiraku@kiraku.example'];
    return execFileSync('git', [...who, ...args], { cwd: folder, encoding: 'utf8' });
  }
}
