import { Desk, freePort, MailServer, threadsOf, to } from '../harness.js';
import { hasPostfix, Postfix } from './postfix.js';

// Postfix must be started by root; where it cannot be, the run says so as skipped.
const withPostfix = hasPostfix ? test : test.skip;

withPostfix(
  'a real Postfix relays a letter to three people; its log and its queue are the witness',
  async () => {
    // A host behind that offered receipts would be left to give them.
    const mail = await MailServer.start({ hideDSN: true });
    const port = await freePort();
    const postfix = await Postfix.start(port, mail.port);
    const desk = await Desk.start(port);
    try {
      const recipients = [
        to('marit@lindqvist.example'),
        to('jun@lindqvist.example', '', 'cc'),
        to('gone@lindqvist.example', '', 'bcc'),
      ];
      mail.refusals.set('gone@lindqvist.example', { responseCode: 550, message: '5.1.1 No such mailbox' });
      const { id } = await desk.send({ recipients, subject: 'Through a relay', deliveryReceipt: true });
      const detail = await desk.sent(id);
      // It offers delivery receipts, and takes what a server behind it will refuse.
      expect(detail.copies.map((copy) => [copy.state, copy.deliveryReceipt])).toEqual(Array(3).fill(['sent', 'asked']));

      const delivered = () => postfix.log.match(/to=<(marit|jun)@lindqvist\.example>.*status=sent/g)?.length ?? 0;
      const bounced = () =>
        /to=<gone@lindqvist\.example>.*status=bounced \(.*550 5\.1\.1 No such mailbox/.test(postfix.log);
      while (delivered() < 2 || !bounced()) await new Promise((resolve) => setTimeout(resolve, 50));
      for (const copy of detail.copies) expect(postfix.log).toContain(`message-id=${copy.messageIdHeader}`);
      while ((await postfix.queue()) !== 'Mail queue is empty') await new Promise((resolve) => setTimeout(resolve, 50));

      // What passed a relay is still what was woven.
      const images = ['marit', 'jun'].map((name) => threadsOf(mail.to(`${name}@lindqvist.example`)).image);
      expect(new Set(images).size).toBe(2);
      // The reports come back to the sender (RFC 3464), each under the identifier that was given (RFC 3461).
      const reports = () => mail.received.filter((one) => one.to[0] === 'ines@tallowreed.example');
      while (reports().length < 3) await new Promise((resolve) => setTimeout(resolve, 50));
      const envelopes = reports().map(({ raw }) => /^Original-Envelope-Id: (.+)$/im.exec(raw.toString())?.[1]!.trim());
      expect(envelopes.sort()).toEqual(detail.copies.map((copy) => copy.messageIdHeader.replace(/[<>]/g, '')).sort());
    } finally {
      await desk.stop();
      await postfix.stop();
      await mail.stop();
    }
  },
  300_000,
);
