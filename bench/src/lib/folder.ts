import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Config } from '@kiraku/server/environment/config';

/** A data folder of a benchmark's own, with the configuration of a server on it. The public site has the next port. */
export function benchFolder(port: number): { config: Config; remove(): void } {
  const folder = mkdtempSync(join(tmpdir(), 'kiraku-bench-'));
  const config = {
    dataDir: join(folder, 'data'),
    backupDir: join(folder, 'backup'),
    backupCommand: null,
    logFile: null,
    host: '127.0.0.1',
    port,
    publicHost: '127.0.0.1',
    publicPort: port + 1,
    submissionHost: '127.0.0.1',
    submissionPort: 0,
    submissionTlsPort: null,
    lmtpHost: '127.0.0.1',
    lmtpPort: 0,
    deskUrls: [],
    deskProxies: [],
    tls: null,
    isDemo: true,
    publicUrl: `http://127.0.0.1:${port + 1}`,
  };
  return { config, remove: () => rmSync(folder, { recursive: true }) };
}
