import { classify, readDeliveryStatus, readDisposition, reportDoubt } from '@kiraku/core/incoming';
import type { ReceivedMail } from '@kiraku/core/incoming';
import { received } from './mail.js';

const MARIT = 'marit@lindqvist.example';
const SENT = '<sent@tallowreed.example>';
const RETURNED = `From: ines@tallowreed.example\nMessage-ID: ${SENT}\nSubject: Panels\n`;

const byStandard = (text: string, change: Partial<ReceivedMail> = {}) =>
  readDeliveryStatus({
    ...received({ returnPath: '', returned: RETURNED }),
    reports: [{ mediaType: 'message/delivery-status', text }],
    ...change,
  })!;
const ABOUT_THE_MAIL = 'Reporting-MTA: dns; mx.lindqvist.example\n\n';
const recipient = (...lines: string[]) => `${ABOUT_THE_MAIL}Final-Recipient: rfc822; ${MARIT}\n${lines.join('\n')}\n`;

describe('a delivery report by the standard', () => {
  test.each<[lines: string[], action: string, failing: string | null, words: RegExp]>([
    [
      ['Action: failed', 'Status: 5.1.1', 'Diagnostic-Code: smtp; 550 5.1.1 gone'],
      'failed',
      'address-unknown',
      /no such address.*“550 5\.1\.1 gone”$/,
    ],
    [
      ['Action: Failed (bad luck)', 'Status: 5.2.2'],
      'failed',
      'mailbox-full',
      /^Their mailbox is full\. Try again later, or call\.$/,
    ],
    [['Action: failed', 'Diagnostic-Code: X-Unix; 550 5.7.1 spam'], 'failed', 'refused-as-spam', /“550 5\.7\.1 spam”/],
    [['Action: delayed', 'Status: 4.4.1'], 'delayed', 'not-reached', /^Not delivered yet, and being tried again: /],
    [['Action: delivered', 'Status: 2.0.0'], 'delivered', null, /^Delivered to their mailbox\.$/],
    [
      ['Action: delivered', 'Remote-MTA: dns; store.lindqvist.example'],
      'delivered',
      null,
      /^Delivered to their mailbox by store\.lindqvist\.example\.$/,
    ],
    [
      ['Action: relayed', 'Reporting-MTA: dns; relay.example'],
      'relayed',
      null,
      /^Passed on by relay\.example to a server that sends no receipts\.$/,
    ],
    [['Action: expanded'], 'expanded', null, /^Delivered to everybody behind this address\.$/],
  ])('%j', (lines, action, failing, words) => {
    expect(byStandard(recipient(...lines))).toEqual({
      about: [SENT],
      recipients: [{ action, addresses: [MARIT], failing, words: expect.stringMatching(words) }],
    });
  });

  test('names its mail by the envelope’s identifier first, then by what is returned, then by what it follows', () => {
    const text = `Original-Envelope-Id: copy+2B1@tallowreed.example\n${recipient('Action: delivered')}`;
    const follows = '<follows@tallowreed.example>';
    expect(byStandard(text, { references: [follows] }).about).toEqual(['<copy+1@tallowreed.example>', SENT, follows]);
    expect(byStandard(recipient('Action: delivered'), { returned: '', references: [follows] }).about).toEqual([
      follows,
    ]);
    const quoted = { returned: '', text: `It said:\n> Message-Id: ${SENT}\n` };
    expect(byStandard(recipient('Action: delivered'), quoted).about).toEqual([SENT]);
  });

  test('names several recipients, as they were written to and as the server knows them', () => {
    const text = `${ABOUT_THE_MAIL}Original-Recipient: rfc822; one+2Btag@x.example\nFinal-Recipient: rfc822; one@y.example\nAction: failed\n\nFinal-Recipient: rfc822; two@x.example\nAction: delivered\n`;
    expect(byStandard(text).recipients.map(({ action, addresses }) => [action, addresses])).toEqual([
      ['failed', ['one+tag@x.example', 'one@y.example']],
      ['delivered', ['two@x.example']],
    ]);
  });

  test('is read where the block about the mail is missing, and passes over what says nothing', () => {
    expect(byStandard(`Final-Recipient: rfc822; ${MARIT}\nAction: failed\n`).recipients).toHaveLength(1);
    expect(byStandard(recipient('Action: vanished')).recipients).toEqual([]);
    expect(byStandard(`${ABOUT_THE_MAIL}Action: failed\n`).recipients).toEqual([]);
    expect(byStandard('').recipients).toEqual([]);
  });

  test('may be in any script', () => {
    const reports = [{ mediaType: 'message/global-delivery-status', text: recipient('Action: delivered') }];
    expect(byStandard('', { reports }).recipients).toHaveLength(1);
  });
});

describe('a delivery report in words', () => {
  const byWords = (change: Parameters<typeof received>[0]) =>
    readDeliveryStatus(
      received({
        returnPath: null,
        from: { name: '', address: 'MAILER-DAEMON@lindqvist.example' },
        subject: 'failure notice',
        returned: RETURNED,
        text: `Hi. I could not deliver to:\n<${MARIT}>\n550 5.1.1 no such user\n\n--- Below this line is a copy\nfrom: other@elsewhere.example 550`,
        ...change,
      }),
    );

  test('names the mail in what it returns, and its recipient before that', () => {
    expect(byWords({})).toEqual({
      about: [SENT],
      recipients: [
        {
          action: 'failed',
          addresses: [MARIT],
          failing: 'address-unknown',
          words: expect.stringMatching(/“550 5\.1\.1 no such user”$/),
        },
      ],
    });
  });

  test.each([
    'Undelivered Mail Returned to Sender',
    'Delivery Status Notification (Failure)',
    'Mail could not be delivered',
    'Returned mail: User unknown',
    'Mail delivery failed: returning message to sender',
    'Non-Delivery Report',
    'Unzustellbar: Panels',
    'Zustellung fehlgeschlagen: Zustellfehler',
    'Non remis : Panels',
    'No entregado: Panels',
    'Niet bezorgd: Panels',
    'Kunde inte levereras: Panels',
  ])('is known by “%s”', (subject) => {
    expect(byWords({ subject })).toMatchObject({ recipients: [{ action: 'failed' }] });
  });

  test.each(['Delayed: Panels', 'Warning: could not send for 4 hours', 'Mail still being tried', 'It will be retried'])(
    '“%s” tells of a delay',
    (subject) => {
      expect(byWords({ subject })).toMatchObject({
        recipients: [{ action: 'delayed', words: expect.stringMatching(/^Not delivered yet/) }],
      });
    },
  );

  test.each(['mailer-daemon', 'postmaster', 'Mail-Daemon', 'bounces', 'bounce', 'mdaemon', 'noreply-bounce'])(
    'comes from %s',
    (local) => {
      expect(byWords({ from: { name: '', address: `${local}@lindqvist.example` } })).not.toBeNull();
    },
  );

  test('comes from a server, and says that it failed: else it is none', () => {
    const person = { from: { name: 'Marit', address: MARIT } };
    expect(byWords(person)).toBeNull();
    expect(byWords({ ...person, returnPath: '' })).not.toBeNull();
    // Of what it is about, what it returns may tell in another way.
    expect(byWords({ returned: '', references: [] })).toMatchObject({ about: [] });
    expect(byWords({ subject: 'Hello', text: 'Nothing went wrong.' })).toBeNull();
    // What failed may be said in the text alone.
    expect(byWords({ subject: 'Panels', text: `Delivery has failed: ${MARIT}` })).not.toBeNull();
  });

  test('takes the recipients that a server lists in the header, each once', () => {
    const headers = { 'x-failed-recipients': `${MARIT}, otis@lindqvist.example` };
    expect(byWords({ headers })!.recipients[0]!.addresses).toEqual([MARIT, 'otis@lindqvist.example']);
  });
});

describe('a receipt', () => {
  const receipt = (text: string, change: Partial<ReceivedMail> = {}) =>
    readDisposition({
      ...received({}),
      reports: [{ mediaType: 'message/disposition-notification', text }],
      ...change,
    });
  const about = (disposition: string) =>
    `Final-Recipient: rfc822; ${MARIT}\nOriginal-Message-ID: ${SENT}\nDisposition: ${disposition}\n`;

  test.each([
    ['manual-action/MDN-sent-manually; displayed', 'displayed', 'Read receipt: it was displayed.'],
    ['automatic-action/MDN-sent-automatically; displayed', 'displayed', 'Automatic read receipt: it was displayed.'],
    ['manual-action/MDN-sent-manually; deleted', 'deleted', 'Read receipt: it was deleted, perhaps unread.'],
    [
      'automatic-action/MDN-sent-automatically; deleted',
      'deleted',
      'Automatic read receipt: it was deleted, perhaps unread.',
    ],
    ['manual-action/MDN-sent-manually; denied', 'denied', 'They declined to send a read receipt.'],
    ['automatic-action/MDN-sent-automatically; failed', 'denied', 'Their mail app declines read receipts.'],
    ['manual-action/MDN-sent-manually; processed', 'processed', 'Read receipt: a program processed it.'],
    ['automatic-action/MDN-sent-automatically; dispatched', 'processed', 'Automatic read receipt: it was processed.'],
    ['manual-action/MDN-sent-manually; displayed/error', 'displayed', 'Read receipt: it was displayed.'],
    ['manual-action/MDN-sent-manually; Displayed, warning', 'displayed', 'Read receipt: it was displayed.'],
  ])('“%s” says %s', (disposition, kind, words) => {
    expect(receipt(about(disposition))).toMatchObject({ disposition: kind, words, about: [SENT] });
  });

  test('is none where nothing is said', () => {
    expect(receipt(about('manual-action/MDN-sent-manually; vanished'))).toBeNull();
    expect(receipt('Final-Recipient: rfc822; x@y.example\n')).toBeNull();
    expect(readDisposition(received({}))).toBeNull();
  });

  test('names its recipient by every address, and its mail by what it follows, too', () => {
    const text = `Original-Recipient: rfc822; front@lindqvist.example\n\n${about('x/y; displayed')}`;
    expect(receipt(text, { references: ['<other@x.example>'] })).toMatchObject({
      addresses: ['front@lindqvist.example', MARIT, MARIT],
      about: [SENT, '<other@x.example>'],
    });
    const reports = [{ mediaType: 'message/global-disposition-notification', text: about('x/y; displayed') }];
    expect(receipt('', { reports })).not.toBeNull();
  });
});

describe('what a mail is', () => {
  test('reports come before replies, automatic ones and people’s', () => {
    const dsn = { mediaType: 'message/delivery-status', text: recipient('Action: failed') };
    const mdn = { mediaType: 'message/disposition-notification', text: 'Disposition: x/y; displayed' };
    expect(classify(received({ reports: [dsn, mdn], returnPath: '' })).kind).toBe('dsn');
    expect(classify(received({ reports: [mdn], returnPath: '' })).kind).toBe('mdn');
    const reply = { words: 'Thank you.', doubt: null };
    expect(classify(received({ headers: { 'x-autoreply': 'yes' } }))).toEqual({ kind: 'automatic', ...reply });
    expect(classify(received({}))).toEqual({ kind: 'reply', ...reply });
    expect(classify(received({ headers: { precedence: 'bulk' } }))).toEqual({
      kind: 'perhaps-automatic',
      words: 'Thank you.',
      doubt: 'It is perhaps automatic: its precedence field is one that programs set',
    });
  });

  test('its words are those of its writer, of a reasonable length', () => {
    const wordsOf = (text: string) => (classify(received({ text })) as { words: string }).words;
    expect(wordsOf('Yes.\n\n> Would it suit?')).toBe('Yes.');
    expect(wordsOf('x'.repeat(4000))).toBe('x'.repeat(4000));
    expect(wordsOf('x'.repeat(4001))).toBe(`${'x'.repeat(3999)}…`);
    // Never the quote in their place.
    expect(wordsOf('> Would it suit?')).toBe('It has no words of its own: see the message.');
  });

  test('what a calendar says is a reply of its user, whatever its header says', () => {
    const calendar = {
      status: 'accepted' as const,
      summary: 'Sample panels',
      startsAt: Date.UTC(2026, 2, 3, 9),
      isAllDay: true,
      comment: 'See you there',
    };
    expect(classify(received({ calendar, headers: { 'auto-submitted': 'auto-generated' } }))).toEqual({
      kind: 'reply',
      doubt: null,
      words: 'Accepted: Sample panels, 2026-03-03. “See you there”',
    });
  });
});

test.each<[returnPath: string | null, results: string | undefined, doubted: boolean]>([
  ['', undefined, false],
  [null, undefined, false],
  [MARIT, undefined, true],
  ['', 'mx.tallowreed.example; spf=pass; dmarc=pass', false],
  ['', 'mx.tallowreed.example; spf=none; dmarc=fail', true],
  [null, 'mx.tallowreed.example; SPF = FAIL', true],
  ['', 'mx.tallowreed.example; spf=failure-free', false],
  ['', 'mx.tallowreed.example; xspf=fail', false],
])('a report with the return path %j and the results %j is doubted: %s', (returnPath, results, doubted) => {
  const headers = new Map(results === undefined ? [] : [['authentication-results', results]]);
  const doubt = reportDoubt({ returnPath, headers });
  expect(doubt === null).toBe(!doubted);
  if (doubt !== null) expect(doubt).toMatch(returnPath === MARIT ? /came from an address/ : /mail server says/);
});
