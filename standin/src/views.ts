import { html, Html } from './html.js';
import type { ActorsState } from './actors.js';
import type { MailboxEntry, MailEntry } from './mailboxes.js';
import type { Shown } from './phone.js';
import { PROGRAMS, type ReadingProgram } from './programs.js';

/** Unlike Kiraku's own, so that nobody takes one for the other. */
const COLOURS = {
  ground: '#e9efe6',
  stripes: ['#cfdcc9', '#c4d3bd'],
  panel: '#ffffff',
  field: '#f6f9f4',
  line: '#cbd6c6',
  edge: '#6c8162',
  ink: '#233028',
  softInk: '#4c5f50',
  action: '#1c5c38',
};

const STYLE = `
  :root { color-scheme: light; font: 15px/1.5 system-ui, sans-serif; color: ${COLOURS.ink}; background: ${COLOURS.ground} }
  body { margin: 0 }
  header { background: repeating-linear-gradient(-45deg, ${COLOURS.stripes[0]} 0 14px, ${COLOURS.stripes[1]} 14px 28px); border-bottom: 2px solid ${COLOURS.edge}; padding: 10px 24px }
  header b { background: ${COLOURS.ink}; color: ${COLOURS.panel}; padding: 2px 8px }
  header a { color: inherit }
  main { max-width: 1100px; margin: 20px auto; padding: 0 24px }
  h1 { font-size: 20px; margin: 0 0 4px } h2 { font-size: 16px; margin: 24px 0 8px }
  p { margin: 4px 0 12px }
  table { border-collapse: collapse; width: 100%; background: ${COLOURS.panel} }
  td, th { text-align: left; padding: 7px 12px; border: 1px solid ${COLOURS.line}; vertical-align: top }
  a { color: ${COLOURS.action} }
  iframe { width: 100%; height: 460px; border: 1px solid ${COLOURS.edge}; background: ${COLOURS.panel} }
  form { display: flex; gap: 8px 16px; flex-wrap: wrap; align-items: center; background: ${COLOURS.field}; border: 1px solid ${COLOURS.line}; padding: 10px 12px; margin: 12px 0 }
  button { font: inherit; padding: 4px 14px; border: 1px solid ${COLOURS.edge}; background: ${COLOURS.panel}; color: ${COLOURS.ink}; cursor: pointer }
  dl { display: grid; grid-template-columns: 90px 1fr; gap: 2px 12px; margin: 8px 0 12px } dt { color: ${COLOURS.softInk} } dd { margin: 0; overflow-wrap: anywhere }
  .address { font-family: ui-monospace, monospace; background: ${COLOURS.panel}; border: 1px solid ${COLOURS.edge}; padding: 6px 10px; display: block; overflow-wrap: anywhere }
`;

/** Every page says what it is: the simulated world outside, not Kiraku. */
function layout(title: string, body: Html, refreshSeconds?: number): string {
  const refresh = refreshSeconds ? html`<meta http-equiv="refresh" content="${refreshSeconds}" />` : null;
  return html`<!doctype html>
    <html lang="en">
      <head>
        <meta charset="utf-8" />
        <meta name="viewport" content="width=device-width, initial-scale=1" />
        <link rel="icon" href="data:," />
        <title>${title} (simulated world outside)</title>
        ${refresh}
        <style>
          ${new Html(STYLE)}
        </style>
      </head>
      <body>
        <header>
          <b>Simulated</b> The world outside Kiraku: here you are the recipient. <a href="/">All mailboxes</a> ·
          <a href="/phone">Ines’s phone</a>
        </header>
        <main>${body}</main>
      </body>
    </html>`.text;
}

export function mailboxesView(mailboxes: MailboxEntry[], actors: ActorsState): string {
  const rows = mailboxes.map(
    ({ address, mails }) =>
      html`<tr>
        <td><a href="${mailboxPath(address)}">${address}</a></td>
        <td>${mails}</td>
      </tr>`,
  );
  const list = rows.length
    ? html`<table>
        <thead>
          <tr>
            <th>Mailbox</th>
            <th>Messages</th>
          </tr>
        </thead>
        <tbody>
          ${rows}
        </tbody>
      </table>`
    : html`<p>
        Nothing has arrived yet. Send a mail to any address that ends in .example, and its mailbox appears here.
      </p>`;
  return layout(
    'Mailboxes',
    html`<h1>Whose mailbox?</h1>
      <p>
        Mail to any address ending in .example arrives here. An address that begins with “gone” does not exist; one that
        begins with “busy” takes mail at the second attempt.
      </p>
      ${actorsForm(actors)} ${list}`,
    5,
  );
}

function actorsForm({ acting, done, planned }: ActorsState): Html {
  return acting
    ? html`<form method="post" action="/actors/stop">
        <span>Recipients are reading by themselves: ${done} of ${planned} done.</span><button>Stop</button>
      </form>`
    : html`<form method="post" action="/actors/start">
        <span>Let some recipients read their mail by themselves over the next five minutes.</span><button>Start</button>
      </form>`;
}

/** What the sender's own phone shows while it lies beside the desk. */
export function phoneView(shown: readonly Shown[]): string {
  const rows = shown.map(
    ({ at, title, detail }) =>
      html`<tr>
        <td>${at.toLocaleTimeString('en-GB')}</td>
        <td>${title}</td>
        <td>${detail}</td>
      </tr>`,
  );
  const list = rows.length
    ? html`<table>
        <thead>
          <tr>
            <th>At</th>
            <th>It says</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          ${rows}
        </tbody>
      </table>`
    : html`<p>Nothing yet.</p>`;
  return layout(
    'Ines’s phone',
    html`<h1>Ines’s phone</h1>
      <p>It gets notifications from a push service, as a real phone would, even when Kiraku is closed.</p>
      ${list}`,
    2,
  );
}

export function mailboxView(address: string, mails: MailEntry[], program: ReadingProgram): string {
  const rows = mails.map(
    ({ id, from, subject, date }) =>
      html`<tr>
        <td><a href="${mailboxPath(address)}/${id}?program=${program.id}">${subject || '(no subject)'}</a></td>
        <td>${from}</td>
        <td>${date.toLocaleString('en-GB')}</td>
      </tr>`,
  );
  return layout(
    address,
    html`<h1>${address}</h1>
      ${programForm(mailboxPath(address), program)}
      <table>
        <thead>
          <tr>
            <th>Subject</th>
            <th>From</th>
            <th>Date</th>
          </tr>
        </thead>
        <tbody>
          ${rows}
        </tbody>
      </table>`,
    5,
  );
}

export interface ShownMail {
  address: string;
  id: string;
  subject: string;
  from: string;
  to: string;
  cc: string;
  date: Date | undefined;
  /** Whether its sender asked to be told when it is read. */
  wantsReceipt: boolean;
}

export function mailView(mail: ShownMail, program: ReadingProgram): string {
  const place = `${mailboxPath(mail.address)}/${mail.id}`;
  return layout(
    mail.subject || 'Mail',
    html`<h1>${mail.subject || '(no subject)'}</h1>
      <dl>
        <dt>From</dt>
        <dd>${mail.from}</dd>
        <dt>To</dt>
        <dd>${mail.to}</dd>
        ${
          mail.cc
            ? html`<dt>Cc</dt>
                <dd>${mail.cc}</dd>`
            : null
        }
        <dt>Date</dt>
        <dd>${mail.date?.toLocaleString('en-GB') ?? 'none'}</dd>
      </dl>
      ${programForm(place, program)}
      <iframe
        title="The mail as ${mail.address} sees it"
        sandbox="allow-popups allow-popups-to-escape-sandbox"
        src="${place}/body?program=${program.id}"
      ></iframe>
      ${actionForms(place, mail.wantsReceipt)}
      <p>
        <a href="${mailboxPath(mail.address)}?program=${program.id}">Back to the mailbox</a> ·
        <a href="${place}/source">Source as it came</a>
      </p>`,
  );
}

/** What its recipient, their program and their mail server can do with a mail. */
function actionForms(place: string, wantsReceipt: boolean): Html {
  const post = (action: string, content: Html) =>
    html`<form method="post" action="${place}/${action}">${content}</form>`;
  const receipt = wantsReceipt
    ? html`<span>A read receipt was requested:</span>
        <button name="disposition" value="displayed">Send it</button>
        <button name="disposition" value="denied">Decline</button>
        <button name="disposition" value="deleted">Say that it was deleted</button>`
    : html`<span>No read receipt was requested.</span>`;
  return html`<h2>Respond</h2>
    ${post(
      'actions/reply',
      html`<textarea name="text" aria-label="Reply" rows="2" cols="60">
Thank you. Could you call me on Thursday?</textarea>
        <label><input type="checkbox" name="quotes" checked /> quote the message</label><button>Reply</button>`,
    )}
    ${post('actions/receipt', receipt)}
    ${post('actions/away', html`<span>Automatic reply:</span><button>Out of office</button>`)}
    ${post(
      'actions/bounce',
      html`<span>Bounce from the mail server:</span>
        <button name="bounce" value="unknown">No such mailbox</button>
        <button name="bounce" value="full">Mailbox full</button>
        <button name="bounce" value="spam">Taken for spam</button>
        <button name="bounce" value="delayed">Only delayed</button>`,
    )}
    ${post(
      'forward',
      html`<label>Forward it to <input name="to" size="30" value="colleague@elsewhere.example" /></label
        ><button>Forward</button>`,
    )}`;
}

export function doneView(address: string, id: string, words: string): string {
  return layout(
    'Done',
    html`<h1>${words}</h1>
      <p>
        <a href="${mailboxPath(address)}">Back to the mailbox</a> ·
        <a href="${mailboxPath(address)}/${id}">To the message</a>
      </p>`,
  );
}

function programForm(action: string, chosen: ReadingProgram): Html {
  const options = PROGRAMS.map(
    ({ id, label }) =>
      html`<label
        ><input type="radio" name="program" value="${id}" ${new Html(id === chosen.id ? 'checked' : '')} />
        ${label}</label
      >`,
  );
  return html`<form method="get" action="${action}"><span>Read with</span>${options}<button>Use</button></form>`;
}

/** A page of the made-up web, where a link ends. */
export function webView(url: string): string {
  return layout(
    'A page of the made-up web',
    html`<h1>A page of the made-up web</h1>
      <p>The link led to this address. A real browser would now show the page that lies there.</p>
      <span class="address">${url}</span>`,
  );
}

export function deadLinkView(url: string, status: number): string {
  return layout(
    'Dead link',
    html`<h1>This link leads nowhere</h1>
      <p>${status === 0 ? 'Nobody responded.' : `The response was ${status}.`}</p>
      <span class="address">${url}</span>`,
  );
}

export function missingView(): string {
  return layout('Not found', html`<h1>There is nothing here</h1>`);
}

export function mailboxPath(address: string): string {
  return `/mailboxes/${encodeURIComponent(address)}`;
}
