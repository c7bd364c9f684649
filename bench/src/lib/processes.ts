import { spawn, type ChildProcess } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import type { Config } from '@kiraku/server/environment/config';

const ROOT = fileURLToPath(new URL('../../..', import.meta.url));
/** As `npm start` has it. */
const SERVER = ['--max-old-space-size=1024', 'server/dist/bundle/main.js'];

/** The server as it is started for real, on a data folder that was seeded before. */
export async function startServer(config: Config): Promise<ChildProcess> {
  const env = {
    ...process.env,
    KIRAKU_DATA: config.dataDir,
    KIRAKU_PORT: String(config.port),
    KIRAKU_PUBLIC_HOST: config.publicHost,
    KIRAKU_PUBLIC_PORT: String(config.publicPort),
    KIRAKU_SUBMISSION_PORT: String(config.submissionPort),
    KIRAKU_LMTP_PORT: String(config.lmtpPort),
    KIRAKU_PUBLIC_URL: config.publicUrl,
  };
  // The desk answers last.
  return started(SERVER, `http://${config.host}:${config.port}/health`, env);
}

/** The bare server to be measured against. */
export function startBare(port: number): Promise<ChildProcess> {
  return started(['bench/dist/bareServer.js', String(port)], `http://127.0.0.1:${port}/i/x.gif`, process.env);
}

async function started(args: string[], url: string, env: NodeJS.ProcessEnv): Promise<ChildProcess> {
  const child = spawn(process.execPath, args, { cwd: ROOT, env, stdio: ['ignore', 'ignore', 'inherit'] });
  for (let i = 0; i < 400; i += 1) {
    const ok = await fetch(url, { redirect: 'manual' }).then(
      () => true,
      () => false,
    );
    if (ok) return child;
    await new Promise((resolve) => setTimeout(resolve, 25));
  }
  throw new Error(`${args.join(' ')} does not answer`);
}
