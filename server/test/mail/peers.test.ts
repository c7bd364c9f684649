import { connect } from 'node:net';
import { createTransport } from 'nodemailer';
import { MailboxFollower } from '@kiraku/server/incoming/mailboxFollower';
import { MailboxSettings } from '@kiraku/server/incoming/mailbox.settings';
import { freePort } from '../freePort.js';
import { ACCOUNT, desk, mail, useDesk } from '../harness.js';
import { Dovecot, hasDovecot, PASSWORD, USER } from '../incoming/dovecot.js';
import { hasPostfix, Postfix } from '../submission/postfix.js';
import { became, incomingCases, sendStory, toBecome, type IncomingRow, type MailCase } from './story.js';
import { until } from '../until.js';

/*
 * The same mail as it comes by other programs' servers. They change what strangers wrote on its way: line ends, long lines,
 * fields of their own. Where they do not take a mail as it is, that is theirs.
 */

/** More servers have passed it on than Postfix lets pass; its lines are folded there. */
const NOT_BY_POSTFIX = new Set(['forms/many-received', 'quotes-other/long-line', 'forms/long-header']);

let names: Map<number, string>;

useDesk('each');
beforeEach(async () => {
  names = await sendStory(desk);
});

const idOf = ({ raw }: MailCase) => /^message-id:\s*(<[^>]+>)/im.exec(raw.toString('latin1'))?.[1];
const cases = incomingCases().filter((one) => idOf(one) !== undefined);

/** Those that came out otherwise than expected. */
function wrong(some: readonly MailCase[]): object[] {
  const select = 'select kind, copy_id as copyId, words, doubt from incoming where identity = ?';
  return some.flatMap((one) => {
    const { group, name, expected } = one;
    const found = became(desk.sqlite.prepare(select).all(idOf(one)) as IncomingRow[], names, expected);
    const wanted = toBecome(expected);
    return JSON.stringify(sorted(found)) === JSON.stringify(sorted(wanted))
      ? []
      : [{ [`${group}/${name}`]: found, wanted }];
  });
}

const sorted = (value: object | null) =>
  value && Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)));

(hasDovecot ? test : test.skip)(
  'all of it is understood that lies in a mailbox of Dovecot’s',
  async () => {
    const dovecot = await Dovecot.start();
    try {
      for (const one of cases) dovecot.deliver(one.raw.toString('latin1'), '', 'latin1');
      await desk.call('PUT', '/api/settings/mailbox', {
        way: 'imap',
        host: '127.0.0.1',
        port: dovecot.port,
        security: 'none',
        user: USER,
        password: PASSWORD,
        folders: [],
        storesSent: false,
        unmatched: 'later',
      });
      const follower = desk.get(MailboxFollower);
      for (const end = Date.now() + 240_000; follower.state().seenAt === null && Date.now() < end;)
        await new Promise((resolve) => setTimeout(resolve, 100));
      expect(follower.state()).toMatchObject({ problem: null, failures: [] });
      expect(wrong(cases)).toEqual([]);
    } finally {
      await dovecot.stop();
    }
  },
  300_000,
);

(hasPostfix ? test : test.skip)(
  'all of it is understood that Postfix brings',
  async () => {
    const mailbox = desk.get(MailboxSettings);
    mailbox.save({ ...mailbox.view(), way: 'lmtp' });
    const port = await freePort();
    const home = { address: ACCOUNT.address, port: desk.config.lmtpPort };
    const postfix = await Postfix.start(port, mail.port, home);
    const some = cases.filter(({ group, name }) => !NOT_BY_POSTFIX.has(`${group}/${name}`));
    const transport = createTransport({ host: '127.0.0.1', port, ignoreTLS: true, pool: true, maxConnections: 4 });
    try {
      await until(() => replies(port));
      for (const { raw } of some) {
        const from = /^return-path:\s*<([^>]*)>/im.exec(raw.toString('latin1'))?.[1] ?? 'somebody@elsewhere.example';
        const text = raw
          .toString('latin1')
          .replace(/^From .*\r?\n/, '')
          .replace(/\r?\n/g, '\r\n');
        await transport.sendMail({ envelope: { from, to: [home.address] }, raw: Buffer.from(text, 'latin1') });
      }
      await until(async () => (await postfix.queue()) === 'Mail queue is empty', { withinMs: 240_000 });
      // None of it was turned away, to come again minutes later.
      expect(postfix.log).not.toMatch(/status=deferred/);
      expect(wrong(some)).toEqual([]);
    } finally {
      transport.close();
      await postfix.stop();
    }
  },
  300_000,
);

function replies(port: number): Promise<boolean> {
  return new Promise((resolve) => {
    const socket = connect(port, '127.0.0.1');
    socket.once('data', () => resolve(true)).once('error', () => resolve(false));
    socket.once('close', () => resolve(false));
    setTimeout(() => socket.destroy(), 500);
  });
}
