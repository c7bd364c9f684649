import { rm, rename, writeFile } from 'node:fs/promises';
import { setTimeout as pause } from 'node:timers/promises';
import type { INestApplication } from '@nestjs/common';
import type { Recipient } from '@kiraku/core/contract';
import { AS_LINK } from '@kiraku/core/files';
import { BLANK_CONTENT } from '@kiraku/core/message';
import { DAY, MINUTE, SECOND } from '@kiraku/core/time';
import { parsePublicPath } from '@kiraku/core/tracking';
import { createApp } from '@kiraku/server/app';
import type { Config } from '@kiraku/server/environment/config';
import { ContentStore } from '@kiraku/server/files/contentStore';
import { FilesService } from '@kiraku/server/files/files.service';
import { Preparing } from '@kiraku/server/files/preparing';
import { sharedFile, versionFor } from '@kiraku/server/publicSite/sharedFiles.repository';
import { DATABASE, type Database } from '@kiraku/server/store/database';
import { newToken } from '@kiraku/server/tracking/tokens';
import { DraftsService } from '@kiraku/server/messages/drafts.service';
import { SendingService } from '@kiraku/server/messages/sending.service';
import { SendingSettings } from '@kiraku/server/settings/sending.settings';
import { SentService } from '@kiraku/server/messages/sent.service';
import { IncomingService } from '@kiraku/server/incoming/incoming.service';
import { MailboxSettings } from '@kiraku/server/incoming/mailbox.settings';
import { OutboxService } from '@kiraku/server/delivery/outbox.service';
import { PushService } from '@kiraku/server/notifications/push.service';
import { RoundSending } from '@kiraku/server/rounds/roundSending';
import { RecipientsRepository } from '@kiraku/server/messages/recipients.repository';
import { PeopleRepository } from '@kiraku/server/people/people.repository';
import { TagsRepository } from '@kiraku/server/people/tags.repository';
import { TemplatesRepository } from '@kiraku/server/messages/templates.repository';
import { AppPasswords } from '@kiraku/server/submission/appPasswords.service';
import { SessionService } from '@kiraku/server/session/session.service';
import { lastSummaryAt } from '@kiraku/core/summary';
import { SummaryMail } from '@kiraku/server/summary/summaryMail';
import { SummarySettings } from '@kiraku/server/summary/summary.settings';
import { AccountService } from '@kiraku/server/settings/account.service';
import { JudgingSettings } from '@kiraku/server/tracking/judging.settings';
import { OptOuts } from '@kiraku/server/tracking/optOuts';
import { Recorder } from '@kiraku/server/tracking/recorder';
import { correspondence, type Held } from '@kiraku/standin/correspondent';
import { Mailboxes } from '@kiraku/standin/mailboxes';
import { contentsOf } from '@kiraku/standin/reading';
import { Phone } from '@kiraku/standin/phone';
import { readerFile } from '@kiraku/standin/pageReader';
import { phoneFile, startStandin } from '@kiraku/standin/standin';
import { join } from 'node:path';
import { StoryClock } from './storyClock.js';
import { DOCUMENTS, type DocumentName, type StoryDocument } from './documents.js';
import { offerToCafes } from './offers.js';
import { DEMO_APP_PASSWORD, DEMO_PASSPHRASE } from './passwords.js';
import { scenes, type Action, type Scene } from './scenes.js';
import { MESSAGES, messageHtml, PEOPLE, person, SIGNATURE, TEMPLATES, type StoryMessage } from './story.js';

const INES = { name: 'Ines Valdaro', address: 'ines@tallowreed.example' };

/** From which Ines writes. */
const SENDER_NETWORK = '192.0.2.192/26';

/** By whose clocks it is remembered. */
const ZONE = Intl.DateTimeFormat().resolvedOptions().timeZone;

/** Who reads the proposal while the demo runs. */
const LIVE_READER = 'Marit Oakes';
/** The library is older than the first message. */
const LIBRARY_DAYS = 43;

/** A mail as its recipient has it, with what a reading program would find in it. */
interface Arrived {
  copyId: number;
  image: string | undefined;
  links: string[];
  files: string[];
  held: Held | undefined;
}

/**
 * Makes the demo's data folder: the story is lived through by the application's own services, with real mail through
 * the stand-in, and every look goes through the same judging as a real one.
 *
 * @param config of the application that will run on the data; the folder is replaced when all is made
 * @param outside where the stand-in's page and mail server will be found then
 * @returns how many messages there are
 */
export async function generateDemo(
  config: Config,
  outside: { port: number; smtpPort: number },
  now = Date.now(),
): Promise<number> {
  const partial = `${config.dataDir}.partial`;
  await rm(partial, { recursive: true, force: true });
  const standin = await startStandin({ dataDir: partial, port: 0, smtpPort: 0, lmtpPort: 0 });
  const clock = new StoryClock();
  const app = await createApp({ ...config, dataDir: partial }, clock);
  try {
    await app.init();
    return await live(app, clock, {
      dataDir: partial,
      smtpPort: standin.smtpPort,
      later: outside,
      now,
    });
  } finally {
    await app.close();
    await standin.close();
    // Only a whole story takes the place: what a Ctrl-C leaves is made anew.
    if (clock.at === now) {
      await rm(config.dataDir, { recursive: true, force: true });
      await rename(partial, config.dataDir);
    }
  }
}

interface Stage {
  dataDir: string;
  smtpPort: number;
  later: { port: number; smtpPort: number };
  now: number;
}

async function live(
  app: INestApplication,
  clock: StoryClock,
  { dataDir, smtpPort, later, now }: Stage,
): Promise<number> {
  const account = { ...INES, smtpHost: '127.0.0.1', smtpSecurity: 'none' as const, smtpUser: '' };
  app.get(AccountService).save({ ...account, smtpPort });
  await app.get(SessionService).choosePassphrase(DEMO_PASSPHRASE);
  // The story's clock stands still while a message could be recalled.
  const sending = app.get(SendingSettings);
  const { undoSendSeconds } = sending.view();
  sending.save({ undoSendSeconds: 0 });
  // All of the outside comes from this machine, and names the places it stands for.
  const judging = app.get(JudgingSettings);
  judging.save({ ...judging.view(), proxies: ['127.0.0.1', '::1'], ownNetworks: [SENDER_NETWORK] });
  // Ines’s mail server brings replies and receipts.
  const mailbox = app.get(MailboxSettings);
  mailbox.save({ ...mailbox.view(), way: 'lmtp' });
  meetPeople(app, now);
  // On Monday morning she reads how the week was.
  clock.at = now - 8 * DAY;
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const monday = { weekdays: [0], time: '07:30', zone, evenIfEmpty: false };
  app.get(SummarySettings).save(monday);

  const mailboxes = new Mailboxes(join(dataDir, 'standin', 'mail'));
  const story = scenes(now);
  clock.at = now - LIBRARY_DAYS * DAY;
  const library = await keepDocuments(app);
  const templates = keepTools(app, clock.at);
  const actions: { action: Action; arrived: Arrived }[] = [];
  for (const scene of story) {
    clock.at = Math.round(now - scene.sentAgeMs);
    const arrived = await send(app, mailboxes, scene, { library, templates });
    actions.push(...scene.actions.map((action) => ({ action, arrived: arrived[action.by ?? 0]! })));
  }
  const offers = await offerToCafes(app, clock, now);
  for (const { messageId, address, sentAt, acts } of offers.sent) {
    const [arrived] = await arrivals(app, mailboxes, messageId);
    if (arrived?.held?.address !== address) throw new Error(`The offer to ${address} did not arrive`);
    actions.push(...acts(now - sentAt).map((action) => ({ action, arrived })));
  }
  actions.sort((a, b) => b.action.ageMs - a.action.ageMs);
  const summaryAgeMs = now - lastSummaryAt(monday, now)!;
  const summary = actions.findIndex(({ action }) => action.ageMs < summaryAgeMs);
  for (const [index, { action, arrived }] of actions.entries()) {
    if (index === summary) {
      clock.at = now - summaryAgeMs;
      await app.get(SummaryMail).check();
    }
    clock.at = Math.round(now - action.ageMs);
    await happen(app, action, arrived, clock.at);
  }
  clock.at = now - 25 * MINUTE;
  leaveDrafts(app.get(DraftsService));
  const phone = await Phone.of(phoneFile(dataDir));
  await writeFile(readerFile(dataDir), JSON.stringify({ address: person(LIVE_READER).address }));
  const { endpoint, keys } = phone.subscription(`http://127.0.0.1:${later.port}`);
  app.get(PushService).add({ name: 'Ines’s phone (simulated)', endpoint, ...keys });
  sending.save({ undoSendSeconds });
  app.get(AccountService).save({ ...account, smtpPort: later.smtpPort });
  clock.at = now;
  // The rest leaves while the demo runs, in the mornings of working days.
  await app.get(RoundSending).move(offers.roundId, 'resume');
  return story.length + offers.sent.length;
}

function meetPeople(app: INestApplication, now: number): void {
  const recipients = app.get(RecipientsRepository);
  const people = app.get(PeopleRepository);
  const tagged = app.get(TagsRepository);
  PEOPLE.forEach(({ name, address, company, tags }, index) => {
    const id = recipients.ensure({ name, address }, now);
    people.set(id, { company, phone: phoneOf(index), zone: ZONES[index % ZONES.length]! });
    tagged.set(id, tags);
  });
}

/** What follows messages that nobody replies to. */
const FOLLOWING = 'A gentle reminder';

/** Of every other one it is known where they live. */
const ZONES = ['Europe/London', '', 'Europe/Dublin', ''];

/** Of the numbers that are kept free for stories. */
function phoneOf(index: number): string {
  return `+44 1632 960${String(100 + index)}`;
}

/** Sends one message for real, and looks up what arrived with each recipient. */
async function send(
  app: INestApplication,
  mailboxes: Mailboxes,
  scene: Scene,
  { library, templates }: { library: ReadonlyMap<DocumentName, number>; templates: ReadonlyMap<string, number> },
): Promise<Arrived[]> {
  const people = scene.recipients.map(person);
  const recipients = people.map(({ name, address }, index): Recipient => ({
    kind: index === 0 ? 'to' : 'cc',
    name,
    address,
  }));
  const message: StoryMessage = MESSAGES[scene.message];
  const following = templates.get(FOLLOWING)!;
  const draft = app.get(DraftsService).add({
    ...BLANK_CONTENT,
    recipients,
    subject: message.subject,
    html: messageHtml(
      message,
      people.map(({ name }) => name.split(' ')[0]!),
    ),
    trackOpens: scene.tracked ?? true,
    trackClicks: scene.tracked ?? true,
    requestMdn: scene.asksReceipt ?? false,
    disclose: scene.discloses ?? false,
    reminder: scene.reminder ? { ...scene.reminder, zone: ZONE } : null,
    plan: scene.follows
      ? { zone: ZONE, steps: scene.follows.map((step) => ({ ...step, templateId: following })) }
      : null,
    templateId: message.template === undefined ? null : templates.get(message.template)!,
    files: (scene.files ?? []).map((name) => ({ ...AS_LINK, fileId: library.get(name)! })),
  });
  await app.get(SendingService).send(draft.id, draft.revision);
  await handled(app, draft.id);
  return arrivals(app, mailboxes, draft.id);
}

/** What the recipients of a message that was sent have. */
function arrivals(app: INestApplication, mailboxes: Mailboxes, messageId: number): Promise<Arrived[]> {
  const { copies } = app.get(SentService).detail(messageId);
  return Promise.all(
    copies.map(async ({ id: copyId, recipient, state }) => {
      const held = state === 'sent' ? await newestMail(mailboxes, recipient.address) : undefined;
      const contents = contentsOf(held?.mail.html || '');
      const isFile = (url: string) => parsePublicPath(new URL(url).pathname)?.kind === 'file';
      const links = contents.links.filter((url) => !isFile(url));
      return { copyId, image: contents.images[0], links, files: contents.links.filter(isFile), held };
    }),
  );
}

async function handled(app: INestApplication, id: number): Promise<void> {
  for (let patience = 0; patience < 500; patience += 1) {
    await app.get(OutboxService).drained();
    if (app.get(SentService).detail(id).summary.state !== 'queued') return;
    await pause(10);
  }
  throw new Error(`Message ${id} of the story could not be sent`);
}

async function newestMail(mailboxes: Mailboxes, address: string): Promise<Held | undefined> {
  const [newest] = await mailboxes.mails(address);
  const mail = newest && (await mailboxes.read(address, newest.id));
  return mail ? { address, mail } : undefined;
}

/** What a reader’s program sends besides. */
const PLAIN = { method: 'GET', purpose: '', ownDevice: false, dnt: false };

/** An open, a click, a file view or a reply, at its time. */
async function happen(app: INestApplication, action: Action, arrived: Arrived, at: number): Promise<void> {
  const { kind, link, file, reader } = action;
  const recorder = app.get(Recorder);
  if (kind === 'opted_out')
    return app
      .get(OptOuts)
      .decide({ choice: 'decline', token: parsePublicPath(new URL(arrived.image!).pathname)!.token, at });
  if (kind in REPLIES) return reply(app, action, arrived, at);
  const urls: Partial<Record<Action['kind'], string | undefined>> = {
    opened: arrived.image,
    clicked: arrived.links[link ?? 0],
    file_viewed: arrived.files[file ?? 0],
  };
  const url = urls[kind];
  const target = url && parsePublicPath(new URL(url).pathname);
  if (!target) throw new Error(`The story wants ${kind}, and the mail has nothing for it`);
  const { token } = target;
  if (kind === 'file_viewed') return read(app, token, action, at);
  await recorder.record([{ target: kind === 'opened' ? 'image' : 'link', token, at, ...PLAIN, ...reader }]);
}

const REPLIES: Partial<Record<Action['kind'], (held: Held, text: string) => Promise<Buffer> | Buffer | null>> = {
  replied: (held, text) => correspondence.replyTo(held, text, true),
  away: (held) => correspondence.away(held),
  receipt_sent: (held) => correspondence.receipt(held, 'displayed'),
  receipt_declined: (held) => correspondence.receipt(held, 'denied'),
};

/** Something comes back by mail, as it would by the user’s mail server. */
async function reply(app: INestApplication, { kind, text = '' }: Action, { held }: Arrived, at: number): Promise<void> {
  const raw = await REPLIES[kind]!(held!, text);
  if (!(await app.get(IncomingService).take(raw!, { at, returnPath: null }))) throw new Error('It belongs to nothing');
}

/** Somebody opens a file and reads it, as their window tells of it when it is closed. */
async function read(app: INestApplication, token: string, { pages = [], reader }: Action, at: number): Promise<void> {
  const recorder = app.get(Recorder);
  const database = app.get<Database>(DATABASE);
  const key = newToken();
  const versionId = versionFor(database, sharedFile(database, token)!, undefined).id;
  const reading = { key, versionId, givenAddress: null };
  await recorder.record([{ target: 'file', token, at, ...PLAIN, ...reader, reading }]);
  const visits = pages.map(([page, seconds], index) => ({ visit: index + 1, page, ms: seconds * SECOND }));
  const lengthMs = visits.reduce((sum, { ms }) => sum + ms, 0);
  await recorder.record([{ token, reading: key, at: at + lengthMs, active: true, visits }]);
}

/** The library, as it was before the first message. */
async function keepDocuments(app: INestApplication): Promise<Map<DocumentName, number>> {
  const library = new Map<DocumentName, number>();
  for (const [name, document] of Object.entries(DOCUMENTS) as [DocumentName, StoryDocument][]) {
    if (name === 'proposal') continue;
    library.set(name, await keepDocument(app, document, null));
  }
  // Since then another layout was added to it.
  library.set('proposal', await keepDocument(app, DOCUMENTS.proposal, library.get('firstProposal')!));
  await app.get(Preparing).idle();
  return library;
}

async function keepDocument(app: INestApplication, document: StoryDocument, fileId: number | null): Promise<number> {
  const path = app.get(ContentStore).scratch();
  await writeFile(path, await document.bytes());
  return (await app.get(FilesService).take(path, document.name, fileId)).id;
}

/**
 * Templates, a signature, and the password under which another mail program hands mail in.
 *
 * @returns the numbers of the templates, by their names
 */
function keepTools(app: INestApplication, now: number): Map<string, number> {
  const repository = app.get(TemplatesRepository);
  const templates = TEMPLATES.map((template) =>
    repository.addTemplate({ reminder: null, files: [], folder: '', ...template }, now),
  );
  repository.addSignature(SIGNATURE);
  app.get(AppPasswords).add('Any mail program', DEMO_APP_PASSWORD);
  return new Map(templates.map(({ id, name }) => [name, id]));
}

function leaveDrafts(drafts: DraftsService): void {
  const iris = person('Iris Holm');
  drafts.add({
    ...BLANK_CONTENT,
    recipients: [{ kind: 'to', name: iris.name, address: iris.address }],
    subject: 'Practice rooms: a first sketch',
    html: '<p>Dear Iris,</p><p>two of the five rooms are small enough for curtains alone. For the others</p>',
  });
  drafts.add({ ...BLANK_CONTENT, subject: 'Winter greetings to all cafés', html: '<p>Dear </p>' });
}
