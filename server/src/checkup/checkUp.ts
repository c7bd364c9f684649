import 'reflect-metadata';
import { existsSync } from 'node:fs';
import { setTimeout as pause } from 'node:timers/promises';
import type { CheckState, CheckupView } from '@kiraku/core/contract';
import { CHECK_LABELS, checkStateSentence, checkupSentence } from '@kiraku/core/sentences';
import { Clock } from '../environment/clock.js';
import { databaseFile, readConfig, type Config } from '../environment/config.js';
import { reachedUrl } from '../environment/reachedHost.js';
import { SESSION_COOKIE } from '../http/cookies.js';
import { Codes } from '../session/codes.js';
import { SessionRepository } from '../session/session.repository.js';
import { SessionService } from '../session/session.service.js';
import { Secrets } from '../settings/secrets.js';
import { SettingsRepository } from '../settings/settings.repository.js';
import { openDatabase } from '../store/database.js';
import { keepPrivate } from '../store/keepPrivate.js';

/*
 * A program of its own, for the terminal: has the desk that runs on this data folder check everything, and says what it found.
 * It ends with 1 where something does not work.
 */

const ASK_AGAIN_MS = 500;
const SIGNS: Record<CheckState, string> = { ok: '+', attention: '!', failing: 'x', unknown: '?', off: '-' };

try {
  const config = readConfig();
  if (!existsSync(databaseFile(config)))
    throw new Error(`There is no Kiraku in ${config.dataDir}: start it with npm start.`);
  keepPrivate(config.dataDir);
  const view = await signedIn(config, (ask) => checked(ask));
  for (const line of view.checks.flatMap(linesOf)) console.log(line);
  console.log(`\n${checkupSentence(view.checks)}`);
  process.exitCode = view.checks.some(({ state }) => state === 'failing') ? 1 : 0;
} catch (error) {
  console.error(error instanceof Error ? error.message : error);
  process.exitCode = 1;
}

type Ask = (method: string, path: string) => Promise<Response>;

/** Asks the desk as whoever sits at this machine: who can write the data folder can sign in. */
async function signedIn<T>(config: Config, work: (ask: Ask) => Promise<T>): Promise<T> {
  const desk = reachedUrl(config.host, config.port);
  const isRunning = await fetch(`${desk}/health`).then(
    ({ ok }) => ok,
    () => false,
  );
  if (!isRunning) throw new Error(`Kiraku does not respond at ${desk}: start it with npm start.`);
  const database = openDatabase(databaseFile(config));
  const settings = new SettingsRepository(database);
  const codes = new Codes(settings, new Secrets(config), new Clock());
  const sessions = new SessionService(settings, new SessionRepository(database), codes, new Clock());
  if (!sessions.isSetUp()) throw new Error(`Kiraku is not set up yet: open ${desk}.`);
  const token = sessions.open('npm run check');
  try {
    return await work((method, path) =>
      fetch(desk + path, { method, headers: { cookie: `${SESSION_COOKIE}=${token}` } }),
    );
  } finally {
    sessions.signOut(token);
    database.$client.close();
  }
}

async function checked(ask: Ask): Promise<CheckupView> {
  let response = await ask('POST', '/api/check-up');
  for (;;) {
    if (!response.ok) throw new Error(`Kiraku could not check (${response.status}).`);
    const view = (await response.json()) as CheckupView;
    if (!view.isUnderWay) return view;
    await pause(ASK_AGAIN_MS);
    response = await ask('GET', '/api/check-up');
  }
}

function linesOf(check: CheckupView['checks'][number]): string[] {
  const { name, state, detail, advice, records } = check;
  return [
    `${SIGNS[state]} ${CHECK_LABELS[name]}: ${checkStateSentence(check, Date.now())}`,
    `    ${detail}`,
    ...(advice === null ? [] : [`    ${advice}`]),
    ...records.map(({ name: at, type, value }) => `    ${at} ${type} "${value}"`),
  ];
}
