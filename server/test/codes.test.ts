import { createHmac } from 'node:crypto';
import type { CodesSecret, CodesView, Problem, RecoveryCodes } from '@kiraku/core/contract';
import { MINUTE, SECOND } from '@kiraku/core/time';
import { desk, PASSPHRASE, useDesk } from './harness.js';
import { runProgram } from './processes.js';

useDesk('each');

const STEP_MS = 30 * SECOND;
const LETTERS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ234567';

/** RFC 4648, section 6. */
function fromBase32(text: string): Buffer {
  const bits = [...text].map((letter) => LETTERS.indexOf(letter).toString(2).padStart(5, '0')).join('');
  return Buffer.from((bits.match(/.{8}/g) ?? []).map((byte) => parseInt(byte, 2)));
}

/** RFC 6238, section 4, with as many digits as phones show. */
function codeAt(secret: Buffer, at: number, digits = 6): string {
  const counter = Buffer.alloc(8);
  counter.writeBigUInt64BE(BigInt(Math.floor(at / STEP_MS)));
  const hash = createHmac('sha1', secret).update(counter).digest();
  const number = hash.readUInt32BE(hash.at(-1)! & 0xf) & 0x7fffffff;
  return String(number % 10 ** digits).padStart(digits, '0');
}

const read = () => desk.json<CodesView>('GET', '/api/settings/codes');
const begin = (passphrase = PASSPHRASE) => desk.call('POST', '/api/settings/codes', { passphrase });
const confirm = (code: string) => desk.call('PUT', '/api/settings/codes', { code });
const signIn = async (code?: string, passphrase = PASSPHRASE) => {
  const response = await fetch(`${desk.url}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ passphrase, ...(code !== undefined && { code }) }),
  });
  return { status: response.status, problem: (await response.json()) as Problem };
};
/** The phone of the user, from when it was set up: it shows the code of now, or of so many steps later. */
async function phone(): Promise<{ shows(steps?: number): string; codes: string[] }> {
  desk.clock.stop();
  const { secret } = (await (await begin()).json()) as CodesSecret;
  const shows = (steps = 0) => codeAt(fromBase32(secret), desk.clock.now() + steps * STEP_MS);
  const { codes } = (await (await confirm(shows())).json()) as RecoveryCodes;
  desk.clock.advance(STEP_MS);
  return { shows, codes };
}

test('the codes of these tests are those of the standard (RFC 6238, appendix B)', () => {
  const secret = Buffer.from('12345678901234567890');
  expect([59, 1111111109, 2000000000].map((at) => codeAt(secret, at * SECOND, 8))).toEqual([
    ...['94287082', '07081804', '69279037'],
  ]);
});

test('they are asked for from when the phone has shown one, and by whoever knows the passphrase', async () => {
  expect(await read()).toEqual({ isOn: false, recoveryCodesLeft: 0 });
  expect((await signIn()).status).toBe(200);
  expect((await confirm('123456')).status).toBe(422);
  expect((await begin('wrong')).status).toBe(401);
  const { secret, uri } = (await (await begin()).json()) as CodesSecret;
  expect(fromBase32(secret)).toHaveLength(20);
  expect(uri).toMatch(new RegExp(`^otpauth://totp/Kiraku:\\S+\\?.*secret=${secret}`));
  expect((await confirm(codeAt(fromBase32(secret), desk.clock.now() + 10 * MINUTE))).status).toBe(422);
  expect((await signIn()).status).toBe(200);
  expect((await confirm(codeAt(fromBase32(secret), desk.clock.now()))).status).toBe(200);
  expect(await read()).toEqual({ isOn: true, recoveryCodesLeft: 10 });
  const { status, problem } = await signIn();
  expect([status, problem.errors?.[0]?.field]).toEqual([401, 'code']);
  expect((await desk.call('DELETE', '/api/settings/codes', { passphrase: 'wrong' })).status).toBe(401);
  expect((await desk.call('DELETE', '/api/settings/codes', { passphrase: PASSPHRASE })).status).toBe(204);
  expect((await signIn()).status).toBe(200);
});

test('each is good once, a step before and after, and never before one that was used', async () => {
  const { shows } = await phone();
  expect((await signIn(shows(2))).status).toBe(401);
  expect((await signIn(shows(1))).status).toBe(200);
  for (const steps of [1, 0, -1]) expect((await signIn(shows(steps))).status).toBe(401);
  desk.clock.advance(STEP_MS * 2);
  expect((await signIn(`${shows().slice(0, 3)} ${shows().slice(3)}`)).status).toBe(200);
  for (const wrong of ['', '12345', 'abcdef', '1234567']) expect((await signIn(wrong)).status).toBe(401);
});

test('a wrong passphrase says nothing of the code, and does not use it up', async () => {
  const { shows } = await phone();
  const { status, problem } = await signIn(shows(), 'wrong');
  expect([status, problem.title, problem.errors]).toEqual([401, 'Wrong passphrase', undefined]);
  expect((await signIn(shows())).status).toBe(200);
});

test('guessing codes is limited like guessing passphrases', async () => {
  await phone();
  const statuses = [];
  for (let n = 0; n < 10; n += 1) statuses.push((await signIn(String(100000 + n))).status);
  expect(statuses.slice(-2)).toEqual([429, 429]);
});

test('a recovery code is good once, however it is written, and the machine’s owner needs none', async () => {
  const { codes } = await phone();
  expect(new Set(codes).size).toBe(10);
  const [first, second] = codes as [string, string];
  expect((await signIn(`${first.slice(0, 5)}-${first.slice(5)}`.toUpperCase())).status).toBe(200);
  expect((await signIn(first)).status).toBe(401);
  expect((await signIn(second)).status).toBe(200);
  expect((await read()).recoveryCodesLeft).toBe(8);
  // Neither lies open in the database.
  const stored = JSON.stringify(desk.sqlite.prepare("select value from setting where key = 'session.codes'").all());
  expect(codes.some((code) => stored.includes(code))).toBe(false);
  const typed = 'felt curtains by moonlight\n';
  expect((await runProgram('resetPassphrase', { env: { KIRAKU_DATA: desk.config.dataDir }, typed })).code).toBe(0);
  expect((await signIn(undefined, typed.trim())).status).toBe(200);
});
