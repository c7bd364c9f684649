import { createServer, type AddressInfo, type Server, type Socket } from 'node:net';
import { AccountService } from '@kiraku/server/settings/account.service';
import { OutboxService } from '@kiraku/server/delivery/outbox.service';
import { ACCOUNT, Desk, MailServer, to } from './harness.js';

/** How a server behaves: what it says first, and what to each line. */
interface Manner {
  greeting?: string;
  response(line: string, socket: Socket): string | undefined;
}

const POLITE: Record<string, string> = { EHLO: '250 here', MAIL: '250 ok', RCPT: '250 ok', DATA: '354 go on' };
const polite = (line: string) => POLITE[line.slice(0, 4).toUpperCase()];

/** Speaks SMTP up to the point where it no longer does. */
const MANNERS: [name: string, manner: Manner, words: RegExp][] = [
  ['closes at the greeting', { greeting: '', response: () => undefined }, /closed|reset/i],
  ['speaks nonsense', { greeting: 'HTTP/1.1 400 Bad Request\r\n\r\n', response: () => '???' }, /400 Bad Request/],
  [
    'refuses the connection at the greeting',
    { greeting: '554 5.7.1 Not you\r\n', response: () => undefined },
    /rejected the connection: 554 5\.7\.1 Not you/,
  ],
  [
    'takes no mail from this sender',
    { response: (line) => (line.startsWith('MAIL') ? '550 5.7.1 Not from you' : polite(line)) },
    /accepts no mail from ines@tallowreed\.example: 550/,
  ],
  [
    'closes in the middle of a mail',
    { response: (line, socket) => (line === 'DATA' ? void socket.destroy() : polite(line)) },
    /closed|reset/i,
  ],
  [
    'takes the mail and closes without a word',
    { response: (line, socket) => (line === '.' ? void socket.destroy() : polite(line)) },
    /closed|reset/i,
  ],
  [
    'answers the mail with nonsense',
    { response: (line) => (line === '.' ? 'indeed' : polite(line)) },
    /indeed|response|closed|reset/i,
  ],
];

let server: Server;
const sockets = new Set<Socket>();

async function listen({ greeting = '220 here ESMTP\r\n', response }: Manner): Promise<number> {
  server = createServer((socket) => {
    sockets.add(socket);
    socket.on('error', () => undefined).on('close', () => sockets.delete(socket));
    if (greeting === '') return void socket.destroy();
    socket.write(greeting);
    let rest = '';
    socket.on('data', (chunk) => {
      const lines = (rest + chunk.toString()).split('\r\n');
      rest = lines.pop()!;
      for (const line of lines) {
        const words = response(line, socket);
        if (words !== undefined) socket.write(`${words}\r\n`);
      }
    });
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  return (server.address() as AddressInfo).port;
}

afterEach(() => {
  for (const socket of sockets) socket.destroy();
  server.close();
});

/** From now on the mail leaves by a server that works. */
async function fixed(desk: Desk, mail: MailServer): Promise<void> {
  desk.get(AccountService).save({ ...ACCOUNT, smtpPort: mail.port });
  desk.clock.advance(5 * 60_000);
  desk.get(OutboxService).wake();
}

test.each(MANNERS)('a server that %s costs nothing but time', async (_name, manner, words) => {
  const desk = await Desk.start(await listen(manner));
  const mail = await MailServer.start();
  const { id } = await desk.send({});
  const waiting = await desk.until(id, ({ summary }) => summary.lastError !== null);
  expect(waiting.summary).toMatchObject({ state: 'queued', lastError: expect.stringMatching(words) });

  await fixed(desk, mail);
  await desk.sent(id);
  expect(mail.received).toHaveLength(1);
  // What may have arrived before is known again by its identity.
  expect(mail.received[0]!.parsed.messageId).toBe(waiting.copies[0]!.messageIdHeader);
  await desk.stop();
  await mail.stop();
});

test('a refused connection is no fault of an address beyond ASCII', async () => {
  const desk = await Desk.start(await listen({ greeting: '554 5.7.1 Not you\r\n', response: () => undefined }));
  const { id } = await desk.send({ recipients: [to('märit@lindqvist.example')] });
  const waiting = await desk.until(id, ({ summary }) => summary.lastError !== null);
  expect(waiting.summary).toMatchObject({
    state: 'queued',
    lastError: expect.stringMatching(/rejected the connection/),
  });
  await desk.stop();
});

test('a server that hangs does not keep the desk from closing, and the mail leaves after the next start', async () => {
  let hung: () => void;
  const reached = new Promise<void>((resolve) => (hung = resolve));
  const desk = await Desk.start(await listen({ response: (line) => (line === 'DATA' ? void hung() : polite(line)) }));
  const mail = await MailServer.start();
  const { id } = await desk.send({});
  await reached;
  await desk.close();
  await desk.open();
  await fixed(desk, mail);
  await desk.sent(id);
  expect(mail.received).toHaveLength(1);
  await desk.stop();
  await mail.stop();
});
