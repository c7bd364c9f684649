import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT, run } from '../lib/steps.mjs';
import { passes } from './passes.mjs';

const MAX_SERVER_TEST_MS = 300_000;

/**
 * Changes of the server that must not pass unnoticed, each with the tests that are to notice it. They are made in what the
 * compiler wrote, of which the first place that fits `find` becomes `put`.
 *
 * @type {readonly { name: string, file: string, find: string | RegExp, put: string, tests: string, only?: string }[]}
 */
const MUTANTS = [
  // Sending
  {
    name: 'the outbox row goes before the server’s “250”',
    file: 'delivery/outbox.service.js',
    find: /const \{ messageId, requestDsn, messageIdHeader \} = this\.outbox\.receiptRequests\(copyId\);/,
    put: "const { messageId, requestDsn, messageIdHeader } = this.outbox.receiptRequests(copyId); this.delivery.apply(copyId, { kind: 'accepted', at: 0, dsnState: null });",
    tests: 'server/test/crash',
    only: 'slow mail server',
  },
  {
    name: 'when to try again is not written down',
    file: 'delivery/delivery.repository.js',
    find: 'this.postpone(copyId, waiting);',
    put: '',
    tests: 'server/test/sending',
    only: 'ever longer times',
  },
  {
    name: 'what is given up stays in the outbox',
    file: 'delivery/delivery.repository.js',
    find: /else\s+this\.database\.delete\(outbox\)[^;]+;/,
    put: '',
    tests: 'server/test/sending',
    only: 'ever longer times',
  },
  {
    name: 'a message does not take over how its copies stand',
    file: 'delivery/delivery.repository.js',
    find: 'this.updateMessage(messageId);',
    put: '',
    tests: 'server/test/sending',
  },
  {
    name: 'what was recalled keeps its mark of being queued',
    file: 'messages/messages.repository.js',
    find: /recurrence: null,\s*queuedAt: null,/,
    put: 'recurrence: null,',
    tests: 'server/test/scheduling',
    only: 'recalled',
  },
  {
    name: 'the machine’s own name goes out',
    file: 'delivery/smtp.js',
    find: 'name: ehloName,',
    put: '',
    tests: 'server/test/sending',
    only: 'greeted',
  },
  // Guards
  {
    name: 'everybody is let in',
    file: 'session/session.guard.js',
    find: 'if (this.sessions.use(sessionToken(request)))',
    put: 'if (true)',
    tests: 'server/test/http',
    only: 'needs a session',
  },
  {
    name: 'a page of another site may change things',
    file: 'http/security.js',
    find: 'if (!foreign)',
    put: 'if (true)',
    tests: 'server/test/http',
    only: 'another site',
  },
  {
    name: 'any name is answered to',
    file: 'http/hosts.js',
    find: 'name !== null && (isLoopback(name) || names.has(name))',
    put: 'true',
    tests: 'server/test/http',
    only: 'gets nothing',
  },
  {
    name: 'any proxy is trusted',
    file: 'app.js',
    find: 'config.deskProxies.length > 0 ? config.deskProxies : false',
    put: "'loopback'",
    tests: 'server/test/http',
    only: 'name of another address',
  },
  {
    name: 'attempts are not counted',
    file: 'session/session.service.js',
    find: 'await this.attemptsOfOne.consume(networkOf(from));',
    put: '',
    tests: 'server/test/http',
    only: 'guessing',
  },
  {
    name: 'attempts are not counted over all addresses',
    file: 'session/session.service.js',
    find: "await this.attemptsOfAll.consume('all');",
    put: '',
    tests: 'server/test/http',
    only: 'very many addresses',
  },
  {
    name: 'all hashes are made at once',
    file: 'session/oneAtATime.js',
    find: 'if (this.waiting > this.maxWaiting)',
    put: 'if (false)',
    tests: 'server/test/http',
    only: 'one hash at a time',
  },
  {
    name: 'set-up does not count attempts',
    file: 'session/session.service.js',
    find: /await this\.countAttempt\(from\);\s*const given/,
    put: 'const given',
    tests: 'server/test/http',
    only: 'named proxy',
  },
  {
    name: 'mail programs may guess passwords without end',
    file: 'submission/submission.server.js',
    find: /await this\.attempts\.consume\(from\)\.catch\(\(\) => \{[\s\S]*?\}\);/,
    put: '',
    tests: 'server/test/submission/submission',
    only: 'guessed',
  },
  {
    name: 'the cookie is never for TLS alone',
    file: 'session/session.controller.js',
    find: 'secure: isOverTls(request, this.config)',
    put: 'secure: false',
    tests: 'server/test/http',
    only: 'TLS alone',
  },
  {
    name: 'the passphrase is changed without the old one',
    file: 'session/session.service.js',
    find: 'await this.checkPassphrase(current, from);',
    put: '',
    tests: 'server/test/http',
    only: 'end with the passphrase',
  },
  {
    name: 'other sessions outlive the passphrase',
    file: 'session/session.service.js',
    find: 'this.sessions.removeAllBut(hashOf(token));',
    put: '',
    tests: 'server/test/http',
    only: 'end with the passphrase',
  },
  {
    name: 'a session that nobody uses never ends',
    file: 'session/session.service.js',
    find: 'row.lastSeenAt > now - MAX_SESSION_IDLE_MS',
    put: 'true',
    tests: 'server/test/http',
    only: 'nobody uses',
  },
  {
    name: 'bodies of strangers are read to eight megabytes',
    file: 'http/jsonBody.js',
    find: 'limit: MAX_OPEN_BODY_BYTES',
    put: 'limit: MAX_BODY_BYTES',
    tests: 'server/test/http',
    only: 'what a body may be',
  },
  {
    name: 'JSON may have any shape',
    file: 'http/jsonShape.js',
    find: 'if (depth > MAX_JSON_DEPTH)',
    put: 'if (false)',
    tests: 'server/test/http',
    only: 'what a body may be',
  },
  {
    name: 'answers may be kept by caches',
    file: 'http/noStore.js',
    find: "'no-store'",
    put: "'private'",
    tests: 'server/test/http',
    only: 'out of caches',
  },
  {
    name: 'a stored password goes to any server',
    file: 'settings/account.service.js',
    find: 'if (isSame)',
    put: 'if (true)',
    tests: 'server/test/session',
    only: 'stored password',
  },
  {
    name: 'logging in is offered before encryption',
    file: 'submission/tlsFirstServer.js',
    find: 'this.isGreeting = true;',
    put: '',
    tests: 'server/test/submission/submission',
    only: 'once the connection is encrypted',
  },
  {
    name: 'a second author passes',
    file: 'submission/senders.js',
    find: 'if (fields > 1)',
    put: 'if (false)',
    tests: 'server/test/submission/submission',
    only: 'somebody else is refused',
  },
  // Replies
  {
    name: 'own mail counts as a reply',
    file: 'incoming/incoming.service.js',
    find: 'if (!read || this.matching.isOwn(read.mail))',
    put: 'if (!read)',
    tests: 'server/test/incoming/incoming',
    only: 'what the user writes',
  },
  {
    name: 'a plan is stopped in the next tick',
    file: 'incoming/consequences.js',
    find: /this\.followups\.replied\(this\.sent\.conversationIds\(messageId\)\);/,
    put: 'setImmediate(() => { try { this.followups.replied(this.sent.conversationIds(messageId)); } catch {} });',
    tests: 'server/test/incoming/incoming',
    only: 'what it stops are one',
  },
  {
    name: 'the same reply twice is an error',
    file: 'incoming/incoming.service.js',
    find: /if \(this\.inbox\.isKnown\(identity\)\)\s*return true;/,
    put: "if (this.inbox.isKnown(identity)) throw new Error('Twice');",
    tests: 'server/test/incoming/incoming',
    only: 'what it stops are one',
  },
  {
    name: 'a doubtful reply stops plans',
    file: 'incoming/consequences.js',
    find: "kind === 'reply' && doubt === null",
    put: "kind === 'reply'",
    tests: 'server/test/incoming/incoming',
    only: 'names no message of ours',
  },
  {
    name: 'a doubtful reply does not hold plans up',
    file: 'following/planSteps.js',
    find: 'this.undecided(messageIds) ?? this.mailbox.replyProblem()',
    put: 'this.mailbox.replyProblem()',
    tests: 'server/test/incoming/incoming',
    only: 'names no message of ours',
  },
  {
    name: 'any report of a failure is accepted',
    file: 'incoming/incoming.service.js',
    find: 'doubt === null && this.consequences.delivered(',
    put: 'this.consequences.delivered(',
    tests: 'server/test/incoming/incoming',
    only: 'a delivery report',
  },
  {
    name: 'a mail is not noted before it is read',
    file: 'incoming/mailbox.repository.js',
    find: '${mailboxFailure.attempts} + 1',
    put: '1',
    tests: 'server/test/incoming/imap',
    only: 'three times|noted before',
  },
  // Undo, retention, files, streams
  {
    name: 'work never runs by itself',
    file: 'work/works.js',
    find: 'due.wake();',
    put: '',
    tests: 'server/test/dueWork',
    only: 'health report',
  },
  {
    name: 'what woke it meanwhile is forgotten',
    file: 'work/dueWork.js',
    find: 'this.isWokenMeanwhile = true;',
    put: '',
    tests: 'server/test/dueWork',
    only: 'once more',
  },
  {
    name: 'a follow-up that is held waits for the next commit',
    file: 'following/following.js',
    find: 'Math.min(now + HELD_RECHECK_MS, next ?? Infinity)',
    put: 'next',
    tests: 'server/test/followups',
    only: 'would not be seen',
  },
  {
    name: 'a part of some work is announced before the whole is committed',
    file: 'store/unitOfWork.js',
    find: '!isPart && ',
    put: '',
    tests: 'server/test/unitOfWork',
    only: 'a part of another',
  },
  {
    name: 'places are kept',
    file: 'privacy/retention.repository.js',
    find: 'place: null, ',
    put: '',
    tests: 'server/test/privacy',
    only: 'by itself',
  },
  {
    name: 'replies are kept',
    file: 'privacy/retention.repository.js',
    find: 'this.database.delete(incoming).where(lt(incoming.at, before)).run();',
    put: '',
    tests: 'server/test/privacy',
    only: 'by itself',
  },
  {
    name: 'files are not in a sandbox',
    file: 'files/sendBytes.js',
    find: '; sandbox',
    put: '',
    tests: 'server/test/files/hostile',
    only: 'runs nowhere',
  },
  {
    name: 'files are shown as whatever they claim to be',
    file: 'files/sendBytes.js',
    find: "isShownAsItIs(kindOfType(mediaType)) ? mediaType : 'application/octet-stream'",
    put: 'mediaType',
    tests: 'server/test/files/hostile',
    only: 'runs nowhere',
  },
  {
    name: 'a window that names its place begins anew',
    file: 'notifications/live.service.js',
    find: 'parseCursor(after) ?? this.end()',
    put: 'this.end()',
    tests: 'server/test/live',
    only: 'window that slept',
  },
  {
    name: 'a window that does not keep up is told all the same',
    file: 'notifications/live.service.js',
    find: 'if (!sink.isReady())',
    put: 'if (false)',
    tests: 'server/test/live',
    only: 'keep up',
  },
  {
    name: 'a stream goes on after signing out',
    file: 'notifications/live.controller.js',
    find: 'this.sessions.ended.subscribe(endIfOver)',
    put: 'this.sessions.ended.subscribe(() => undefined)',
    tests: 'server/test/http',
    only: 'streams with them',
  },
  {
    name: 'the queue of what is to be recorded has no bound',
    file: 'journal/journal.js',
    find: 'if (this.texts.length >= MAX_QUEUED_ENTRIES)',
    put: 'if (false)',
    tests: 'server/test/journal',
    only: 'bounded, so that',
  },
  {
    name: 'an entry is said to be written before it is',
    file: 'journal/journal.js',
    find: 'this.write(texts).then(() => next(null), next);',
    put: 'this.write(texts).catch(() => undefined); next(null);',
    tests: 'server/test/journal',
    only: 'the disk does not take',
  },
  {
    name: 'what lies behind a gap is read while somebody writes',
    file: 'journal/frames.js',
    find: 'if (!frame && !isWritten)',
    put: 'if (false)',
    tests: 'server/test/journal',
    only: 'a byte that is changed',
  },
  {
    name: 'a run is removed while its writer lives',
    file: 'journal/journalFiles.js',
    find: 'return unlock !== null;',
    put: 'return true;',
    tests: 'server/test/journal',
    only: 'side by side',
  },
  {
    name: 'two may apply the same journal',
    file: 'journal/positions.repository.js',
    find: '.sequence !== from.sequence)',
    put: '.sequence < 0)',
    tests: 'server/test/journal',
    only: 'the second is told',
  },
  {
    name: 'an entry that cannot be applied holds up the others',
    file: 'journal/faults.js',
    find: /return typeof code !== 'string'.*;/,
    put: 'return false;',
    tests: 'server/test/publicSiteAlone',
    only: 'is left out',
  },
  {
    name: 'who has just declined is asked again',
    file: 'publicSite/publicSite.js',
    find: 'this.choices.set(personId, hasOptedOut);',
    put: '',
    tests: 'server/test/publicSiteAlone',
    only: 'has declined at once',
  },
  {
    name: 'links end with the database',
    file: 'publicSite/publicSite.js',
    find: /const url = findLink\([^;]*;/,
    put: 'const url = null;',
    tests: 'server/test/publicSiteAlone',
    only: 'cannot be read at all',
  },
  {
    name: 'who is erased stays in the file of links',
    file: 'people/personData.service.js',
    find: 'this.linkFiles.renew();',
    put: '',
    tests: 'server/test/publicSiteAlone',
    only: 'in no file beside',
  },
  {
    name: 'a desk goes on without its supervisor',
    file: 'main.js',
    find: "process.on('disconnect', () => process.kill(process.pid, 'SIGTERM'));",
    put: '',
    tests: 'server/test/publicSiteAlone',
    only: 'leaves no desk behind',
  },
  {
    name: 'an invitation of one’s own browser never ends',
    file: 'publicSite/ownBrowserMarks.js',
    find: 'this.clock.now() < madeAt + INVITED_FOR_MS',
    put: 'true',
    tests: 'server/test/judging',
  },
  {
    name: 'a body that never comes is waited for',
    file: 'publicSite/publicSite.js',
    find: 'requestTimeout: 10_000,',
    put: 'requestTimeout: 300_000,',
    tests: 'server/test/publicSite',
    only: 'not waited for',
  },
  {
    name: 'each address of a network of IPv6 counts by itself',
    file: 'publicSite/connectionLimits.js',
    find: 'const network = networkOf(address);',
    put: 'const network = address;',
    tests: 'server/test/publicSite',
    only: 'counted by their network',
  },
  {
    name: 'every change of mind is written down',
    file: 'tracking/optOuts.js',
    find: /if \(!this\.recipients\.hasOptedOutSince\([^)]*\)\)/,
    put: 'if (true)',
    tests: 'server/test/publicSite',
    only: 'once an hour',
  },
  {
    name: 'reading goes on after a link is switched off',
    file: 'publicSite/viewer.js',
    find: 'if (!isOpen(shared.sent, this.clock.now()))',
    put: "if (kind !== 'fileReading' && !isOpen(shared.sent, this.clock.now()))",
    tests: 'server/test/files/sharing',
    only: 'switched off',
  },
  {
    name: 'windows of one reader add up',
    file: 'tracking/readingWriter.js',
    find: 'at - reading.startedAt - this.readElsewhere(reading, at)',
    put: 'at - reading.startedAt',
    tests: 'server/test/files/sharing',
    only: 'twenty-five windows',
  },
  {
    name: 'mail of strangers may take any time',
    file: 'process/boundedChild.js',
    find: /this\.stop\(\);\s*finish\(\(\) => reject\(new OutOfBoundsError\('It took too long'\)\)\);/,
    put: '',
    tests: 'server/test/process',
    only: 'takes too long',
  },
  {
    name: 'mail of strangers may take any memory',
    file: 'process/boundedChild.js',
    find: 'ulimit -d ${Math.ceil(maxDataBytes / 1024)}; ',
    put: '',
    tests: 'server/test/process',
    only: 'beside its heap',
  },
  {
    name: 'drafts of any HTML are parsed',
    file: 'messages/messageBody.js',
    find: 'if (problem)',
    put: 'if (false)',
    tests: 'server/test/incoming/hostile',
    only: 'a draft of such HTML',
  },
  {
    name: 'a stored bad rule is run',
    file: 'messages/sending.service.js',
    find: /if \(recurrence\)\s*checkRecurrence/,
    put: 'if (false) checkRecurrence',
    tests: 'server/test/writing',
    only: 'is no rule',
  },
  {
    name: 'a company that is entered later is not noted',
    file: 'people/people.controller.js',
    find: 'this.unit.noteMessagesTo([id]);',
    put: '',
    tests: 'server/test/people',
    only: 'entered later',
  },
  // Mail of the world
  {
    name: 'an alias leaves as the account',
    file: 'messages/copies.service.js',
    find: /envelope\?\.from \?\? /,
    put: '',
    tests: 'server/test/submission/envelope',
    only: 'leaves as itself',
  },
  {
    name: 'what is asked of delivery reports is dropped',
    file: 'delivery/outbox.service.js',
    find: 'dsn: row.dsn',
    put: 'dsn: null',
    tests: 'server/test/submission/envelope',
    only: 'goes on to a mail server',
  },
  {
    name: 'a refused connection fails its recipients',
    file: 'delivery/smtp.js',
    find: '!isPermanent || ABOUT_RECIPIENT.test(command)',
    put: 'true',
    tests: 'server/test/badServer',
    only: 'refuses the connection|takes no mail',
  },
  {
    name: 'what is perhaps automatic counts at once',
    file: 'incoming/consequences.js',
    find: /'perhaps-automatic': PERHAPS_AUTOMATIC\.name/,
    put: '',
    tests: 'server/test/incoming/incoming',
    only: 'perhaps automatic',
  },
  {
    name: 'tracking of ours that a mail quotes stays',
    file: 'messages/ownTracking.js',
    find: 'if (targets.length === 0)',
    put: 'if (true)',
    tests: 'server/test/mail/outgoing',
    only: 'own-tracking',
  },
  {
    name: 'lines grow past what mail may have',
    file: 'mime/encoding.js',
    find: 'IDENTITY.has(encoding) && !hasLongLine(content)',
    put: 'IDENTITY.has(encoding)',
    tests: 'server/test/mail/outgoing',
    only: 'lines/',
  },
  {
    name: 'a part with a name is text',
    file: 'mime/split.js',
    find: "disposition === 'attachment' || Boolean(filename)",
    put: "disposition === 'attachment'",
    tests: 'server/test/mail/outgoing',
    only: 'structure/',
  },
  {
    name: 'mail for others is refused for good',
    file: 'incoming/lmtp.server.js',
    find: 'reply(450, problem)',
    put: 'reply(550, problem)',
    tests: 'server/test/incoming/incoming',
    only: 'is to come later',
  },
  {
    name: 'an erased person takes the mail of the others along',
    file: 'people/personData.repository.js',
    find: 'this.outbox.keepWhole(messageId);',
    put: '',
    tests: 'server/test/submission/envelope',
    only: 'is kept once',
  },
  {
    name: 'some behind an address that did not get it fail all',
    file: 'incoming/consequences.js',
    find: 'arrivalsFirst(reports)',
    put: 'reports',
    tests: 'server/test/incoming/incoming',
    only: 'some may get it',
  },
  // Reports and the summary
  {
    name: 'a report is lost with the thread of the one before',
    file: 'reports/reports.service.js',
    find: /if \(this\.worker !== worker\)\s+return;/,
    put: '',
    tests: 'server/test/reports',
    only: 'in turn',
  },
  {
    name: 'a message does not say that it left with links',
    file: 'messages/copies.service.js',
    find: 'outgoing.tracked.includes(true)',
    put: 'false',
    tests: 'server/test/reports',
    only: 'narrowed as the list is',
  },
  {
    name: 'the hours of a week are those of another zone',
    file: 'sent/narrowings.repository.js',
    find: 'hourOfWeek(sentAt, zone, now)',
    put: "hourOfWeek(sentAt, 'UTC', now)",
    tests: 'server/test/listProperties',
    only: 'whatever is asked',
  },
  {
    name: 'a summary that was emailed is emailed again',
    file: 'summary/summaryMail.js',
    find: 'this.settings.setEmailed(now);',
    put: '',
    tests: 'server/test/summary',
    only: 'missed while',
  },
  {
    name: 'a summary that the mail server refused is taken for emailed',
    file: 'summary/summaryMail.js',
    find: "outcome.kind !== 'accepted'",
    put: 'false',
    tests: 'server/test/summary',
    only: 'did not take',
  },
  {
    name: 'who opted out while their message waits gets it',
    file: 'rounds/roundSending.js',
    find: 'if (this.rounds.optedOut(recipients.map(({ address }) => address)).size > 0)',
    put: 'if (false)',
    tests: 'server/test/rounds/rounds',
    only: 'while their message waits',
  },
  {
    name: 'a round begins with a placeholder that cannot be filled',
    file: 'rounds/roundPlanning.js',
    find: 'if (unfilled.length === 0)',
    put: 'if (true)',
    tests: 'server/test/rounds/rounds',
    only: 'columns of a sheet',
  },
  {
    name: 'what was missed of a round leaves all at once',
    file: 'rounds/roundSending.js',
    find: 'now - next.sendAt > OVERDUE_MS',
    put: 'false',
    tests: 'server/test/rounds/rounds',
    only: 'machine was off',
  },
  {
    name: 'what was changed by hand is filled in anew',
    file: 'rounds/roundTexts.js',
    find: 'const untouched = members.filter(isUntouched)',
    put: 'const untouched = members',
    tests: 'server/test/rounds/rounds',
    only: 'changed by hand',
  },
  {
    name: 'what a draft does not have is written as JSON',
    file: 'store/preparedOnce.js',
    find: 'value === null ? null : column',
    put: 'column',
    tests: 'server/test/writing',
    only: 'stays unset',
  },
  {
    name: 'those who got the better wording as the rest count in the comparison',
    file: 'rounds/rounds.repository.js',
    find: 'eq(roundMember.isRest, false)',
    put: 'sql`1`',
    tests: 'server/test/rounds/rounds',
    only: 'the rest gets',
  },
  {
    name: 'single messages can be opted out of with one press, too',
    file: 'messages/writtenMessage.js',
    find: 'oneClickUrl: setting.isOfRound ? optOutUrl : null',
    put: 'oneClickUrl: optOutUrl',
    tests: 'server/test/rounds/rounds',
    only: 'nor in single messages',
  },
  {
    name: 'a scheduled message of a round leaves by itself',
    file: 'messages/messages.repository.js',
    find: 'and(isScheduled, isNull(message.roundId), gte(',
    put: 'and(isScheduled, gte(',
    tests: 'server/test/rounds/rounds',
    only: 'machine was off',
  },
];

/**
 * Tries each, one after the other, and calls back with those that survive.
 *
 * @param {{ only: string[], tell: (text: string) => void }} options `only`: words of their names
 * @returns {Promise<{ noticed: number, tried: number }>}
 */
export async function tryServer({ only, tell }) {
  const score = { noticed: 0, tried: 0 };
  for (const mutant of MUTANTS) {
    if (only.length > 0 && !only.some((word) => mutant.name.includes(word))) continue;
    const isNoticed = await isNoticedBy(mutant);
    score.tried += 1;
    score.noticed += Number(isNoticed);
    if (!isNoticed) tell(`survived: ${mutant.name}`);
  }
  return score;
}

async function isNoticedBy(mutant) {
  const { name, file, find, put } = mutant;
  const path = join(ROOT, 'server/dist', file);
  const source = readFileSync(path, 'utf8');
  const mutated = source.replace(find, () => put);
  if (mutated === source) throw new Error(`“${name}” fits nothing in ${file} any more`);
  // Else it would seem to be noticed.
  if (!(await passes(ROOT, argsOf(mutant), MAX_SERVER_TEST_MS)))
    throw new Error(`The tests of “${name}” do not pass as they are.`);
  writeFileSync(path, mutated);
  try {
    await bundle();
    return !(await passes(ROOT, argsOf(mutant), MAX_SERVER_TEST_MS));
  } finally {
    writeFileSync(path, source);
    await bundle();
  }
}

/** Programs of their own run as bundled, in tests as well. */
function bundle() {
  return run('npx', ['rolldown', '-c', 'server/rolldown.config.mjs'], { quiet: true });
}

/** By what Jest finds the tests of a mutant. */
function argsOf({ tests, only }) {
  const args = ['--selectProjects', 'server', '--bail', '--silent', '--forceExit'];
  return [...args, ...(only ? ['-t', only] : []), '--', tests];
}
