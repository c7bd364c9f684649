import { buffer } from 'node:stream/consumers';
import express, { type Express, type Request, type Response } from 'express';
import type { Actors } from './actors.js';
import {
  addressOf,
  BOUNCES,
  correspondence,
  DISPOSITIONS,
  type Bounce,
  type Held,
  type Postman,
} from './correspondent.js';
import { isMailboxName, type Mailboxes } from './mailboxes.js';
import { MAX_PUSH_BYTES, type Phone } from './phone.js';
import { programOf } from './programs.js';
import { contentsOf, fetchImage, followLink, shownMail, type ReaderSetup } from './reading.js';
import {
  deadLinkView,
  doneView,
  mailboxesView,
  mailboxPath,
  mailboxView,
  mailView,
  missingView,
  phoneView,
  webView,
} from './views.js';

const MAX_REPLY_CHARS = 20_000;
const ACTING_MS = 5 * 60_000;
const PAGE_POLICY =
  "default-src 'none'; style-src 'unsafe-inline'; img-src 'self' data:; frame-src 'self'; form-action 'self'; base-uri 'none'";
/** A mail runs nothing, and loads nothing but through the stand-in. */
const MAIL_POLICY = "default-src 'none'; style-src 'unsafe-inline'; img-src 'self' data:";

const readerOf = ({ params, query }: Request<{ address: string }>): ReaderSetup => ({
  program: programOf(query['program']),
  mailbox: params.address,
});

/** What a filter does: all at once, and before anybody sees the mail. */
async function takeAll(body: string, reader: ReaderSetup): Promise<void> {
  const { images, links } = contentsOf(body);
  await Promise.all([...images.map((url) => fetchImage(url, reader)), ...links.map((url) => followLink(url, reader))]);
}

/** The page on which one is the recipient. */
export function createPage(mailboxes: Mailboxes, actors: Actors, phone: Phone, postman: Postman): Express {
  const app = express();
  app.disable('x-powered-by');
  app.use((_request, response, next) => {
    response.set({
      'Content-Security-Policy': PAGE_POLICY,
      'Referrer-Policy': 'no-referrer',
      'Cache-Control': 'no-store',
    });
    next();
  });

  app.get('/health', (_request, response) => void response.json({ status: 'ok' }));

  app.get('/', async (_request, response) => void response.send(mailboxesView(await mailboxes.list(), actors.state)));

  app.post('/actors/start', async (_request, response) => {
    await actors.start(ACTING_MS);
    response.redirect(303, '/');
  });

  app.post('/actors/stop', (_request, response) => {
    actors.stop();
    response.redirect(303, '/');
  });

  app.get('/phone', (_request, response) => void response.send(phoneView(phone.shown)));

  app.get('/phone/subscription', (request, response) => void response.json(phone.subscription(originOf(request))));

  // Read by hand: its content coding is the phone's to undo.
  app.post('/push/:id', async (request, response) => {
    const length = Number(request.headers['content-length']);
    if (!(length <= MAX_PUSH_BYTES)) return void response.status(length > 0 ? 413 : 411).end();
    const headers = request.headers as Record<string, string>;
    const status = phone.take(request.params.id, headers, await buffer(request), originOf(request));
    if (status === 201) response.location(`${request.path}/${Date.now()}`);
    response.status(status).end();
  });

  app.get('/mailboxes/:address', async (request, response) => {
    const { address } = request.params;
    response.send(mailboxView(address, await mailboxes.mails(address), programOf(request.query['program'])));
  });

  const mail = '/mailboxes/:address/:id';
  app.get(mail, async (request: Request<{ address: string; id: string }>, response) => {
    const { address, id } = request.params;
    const parsed = await mailboxes.read(address, id);
    if (!parsed) return missing(response);
    const named = (field: typeof parsed.to) =>
      [field ?? []]
        .flat()
        .map((one) => one.text)
        .join(', ');
    const { subject = '', date } = parsed;
    const shown = {
      address,
      id,
      subject,
      date,
      from: parsed.from?.text ?? '',
      to: named(parsed.to),
      cc: named(parsed.cc),
      wantsReceipt: parsed.headers.has('disposition-notification-to'),
    };
    response.send(mailView(shown, programOf(request.query['program'])));
  });

  app.get(`${mail}/source`, async (request: Request<{ address: string; id: string }>, response) => {
    const raw = await mailboxes.raw(request.params.address, request.params.id);
    if (!raw) return missing(response);
    response.type('text/plain').send(raw);
  });

  app.get(`${mail}/body`, async (request: Request<{ address: string; id: string }>, response) => {
    const { address, id } = request.params;
    const parsed = await mailboxes.read(address, id);
    if (!parsed) return missing(response);
    const body = parsed.html || `<pre>${parsed.textAsHtml ?? ''}</pre>`;
    const place = `${mailboxPath(address)}/${id}`;
    const reader = readerOf(request);
    // It opens everything there is, and shows it to nobody.
    if (reader.program.followsAll) void takeAll(body, reader);
    response.set('Content-Security-Policy', MAIL_POLICY).send(shownMail(body, place, reader.program));
  });

  /** Writes back in the name of who has the mail; what was written is brought before the page says so. */
  const actions: Record<string, (held: Held, form: Record<string, unknown>) => Promise<Buffer | null> | Buffer | null> =
    {
      reply: (held, { text, quotes }) =>
        correspondence.replyTo(held, oneOf(text).slice(0, MAX_REPLY_CHARS) || 'Thank you.', quotes !== undefined),
      away: (held) => correspondence.away(held),
      receipt: (held, { disposition }) => {
        const named = DISPOSITIONS.find((one) => one === disposition);
        return named ? correspondence.receipt(held, named) : null;
      },
      bounce: (held, { bounce }) =>
        oneOf(bounce) in BOUNCES ? correspondence.bounce(held, oneOf(bounce) as Bounce) : null,
    };

  app.post(
    `${mail}/actions/:action`,
    express.urlencoded({ extended: false, limit: 100_000 }),
    async (request: Request<{ address: string; id: string; action: string }>, response) => {
      const { address, id, action } = request.params;
      const parsed = await mailboxes.read(address, id);
      const write = Object.hasOwn(actions, action) ? actions[action] : undefined;
      if (!parsed || !write) return missing(response);
      const form = (request.body ?? {}) as Record<string, unknown>;
      const raw = await write({ address, mail: parsed }, form);
      if (!raw) return void response.status(422).send(doneView(address, id, 'Nobody asked for that.'));
      const isReport = action === 'bounce';
      const done = await postman.bring(raw, isReport ? '' : address, addressOf(parsed)).then(
        () => 'It was delivered to the sender.',
        (error: Error) => `The sender’s mail server could not be reached: ${error.message}`,
      );
      // What is sent back never lay in a mailbox.
      if (isReport && oneOf(form['bounce']) !== 'delayed') await mailboxes.remove(address, id);
      response.send(doneView(address, id, done));
    },
  );

  app.post(
    `${mail}/forward`,
    express.urlencoded({ extended: false, limit: 10_000 }),
    async (request: Request<{ address: string; id: string }>, response) => {
      const { address, id } = request.params;
      const raw = await mailboxes.raw(address, id);
      const to = oneOf((request.body as Record<string, unknown>)['to'])
        .trim()
        .toLowerCase();
      if (!raw) return missing(response);
      if (!isMailboxName(to) || !to.endsWith('.example'))
        return void response.status(422).send(doneView(address, id, 'Forward it to an address that ends in .example.'));
      await mailboxes.keep(to, raw);
      response.send(doneView(address, id, `It is in the mailbox of ${to} too.`));
    },
  );

  app.get(
    `${mail}/image/:number`,
    async (request: Request<{ address: string; id: string; number: string }>, response) => {
      const url = await addressIn(request, 'images');
      const image = url ? await fetchImage(url, readerOf(request)) : null;
      if (!image) return missing(response);
      response.type(image.type).send(image.bytes);
    },
  );

  app.get(
    `${mail}/link/:number`,
    async (request: Request<{ address: string; id: string; number: string }>, response) => {
      const url = await addressIn(request, 'links');
      if (!url) return missing(response);
      const followed = await followLink(url, readerOf(request));
      if ('status' in followed) return void response.status(502).send(deadLinkView(url, followed.status));
      const { hostname, host, pathname, search } = new URL(followed.location);
      response.redirect(hostname.endsWith('.example') ? `/web/${host}${pathname}${search}` : followed.location);
    },
  );

  app.get('/web/*address', (request, response) => {
    response.send(webView(`https://${request.originalUrl.slice('/web/'.length)}`));
  });

  app.use((_request: Request, response: Response) => missing(response));

  /** Only addresses that stand in a kept mail are ever fetched. */
  async function addressIn(
    request: Request<{ address: string; id: string; number: string }>,
    kind: 'images' | 'links',
  ) {
    const parsed = await mailboxes.read(request.params.address, request.params.id);
    return contentsOf(parsed?.html || '')[kind][Number(request.params.number)];
  }

  return app;
}

function oneOf(value: unknown): string {
  return typeof value === 'string' ? value : '';
}

function originOf(request: Request): string {
  return `http://${request.headers.host}`;
}

function missing(response: Response): void {
  response.status(404).send(missingView());
}
