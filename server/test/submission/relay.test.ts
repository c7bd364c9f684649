import { MailboxSettings } from '@kiraku/server/incoming/mailbox.settings';
import { freePort } from '../freePort.js';
import { Desk, MailServer, trackingUrlsOf, to } from '../harness.js';
import { hasPostfix, Postfix } from './postfix.js';
import { until } from '../until.js';

// Postfix must be started by root; where it cannot be, the run says so as skipped.
const withPostfix = hasPostfix ? test : test.skip;

withPostfix(
  'a real Postfix relays a letter to three people; its log and its queue are the witness',
  async () => {
    // A host behind that offered receipts would be left to give them.
    const mail = await MailServer.start({ hideDSN: true });
    const port = await freePort();
    const desk = await Desk.start(port);
    const home = { address: 'ines@tallowreed.example', port: desk.config.lmtpPort };
    const postfix = await Postfix.start(port, mail.port, home);
    const mailbox = desk.get(MailboxSettings);
    mailbox.save({ ...mailbox.view(), way: 'lmtp' });
    try {
      const recipients = [
        to('marit@lindqvist.example'),
        to('jun@lindqvist.example', '', 'cc'),
        to('gone@lindqvist.example', '', 'bcc'),
      ];
      mail.refusals.set('gone@lindqvist.example', { responseCode: 550, message: '5.1.1 No such mailbox' });
      const { id } = await desk.send({ recipients, subject: 'Through a relay', requestDsn: true });
      const detail = await desk.sent(id);
      // It offers delivery receipts, and takes what a server behind it will refuse.
      expect(detail.copies.map((copy) => [copy.state, copy.dsnState])).toEqual(Array(3).fill(['sent', 'asked']));

      const delivered = () => postfix.log.match(/to=<(marit|jun)@lindqvist\.example>.*status=sent/g)?.length ?? 0;
      const bounced = () =>
        /to=<gone@lindqvist\.example>.*status=bounced \(.*550 5\.1\.1 No such mailbox/.test(postfix.log);
      await until(() => delivered() >= 2 && bounced());
      for (const copy of detail.copies) expect(postfix.log).toContain(`message-id=${copy.messageIdHeader}`);
      await until(async () => (await postfix.queue()) === 'Mail queue is empty');

      // What passed a relay is still what was instrumented.
      const images = ['marit', 'jun'].map((name) => trackingUrlsOf(mail.to(`${name}@lindqvist.example`)).image);
      expect(new Set(images).size).toBe(2);
      // Its reports come back by LMTP (RFC 3464), and say of each copy what became of it.
      const known = await desk.until(id, ({ copies }) => copies.every((one) => one.dsnState !== 'asked'));
      expect(known.copies.map((copy) => [copy.state, copy.dsnState])).toEqual([
        ['sent', 'relayed'],
        ['sent', 'relayed'],
        ['failed', 'failed'],
      ]);
      expect(known.copies[2]!.lastError).toMatch(/There is no such address.*550 5\.1\.1 No such mailbox/);
      expect(known.events.map(({ kind }) => kind).sort()).toEqual(['bounced', 'delivered', 'delivered']);
    } finally {
      await desk.stop();
      await postfix.stop();
      await mail.stop();
    }
  },
  300_000,
);
