import type { ServerResponse } from 'node:http';
import { paletteCss } from '@kiraku/core/look';
import { escapeHtml } from '@kiraku/core/message';
import { publicLanguage, publicSentences, type PublicLanguage, type PublicSentences } from '@kiraku/core/publicPages';

/** Of the public site’s own pages: nothing runs in them, and nothing is loaded. */
export const PAGE_HEADERS = {
  'Content-Type': 'text/html; charset=utf-8',
  'Cache-Control': 'no-store',
  'Content-Security-Policy':
    "default-src 'none'; style-src 'unsafe-inline'; form-action 'self'; frame-ancestors 'none'",
  'Referrer-Policy': 'no-referrer',
  'X-Content-Type-Options': 'nosniff',
  'X-Robots-Tag': 'noindex',
};

/** Quiet paper, in the reader’s own light: sizes are those that a finger and tired eyes want. */
const STYLE =
  paletteCss() +
  '*{box-sizing:border-box}' +
  'body{margin:0;min-height:100vh;display:grid;place-items:center;padding:24px 16px;background:var(--paper);' +
  'color:var(--ink);font:17px/1.6 system-ui,sans-serif}' +
  'main{width:min(36em,100%);padding:clamp(20px,6vw,44px);background:var(--panel);border:1px solid var(--line);' +
  'border-radius:3px;overflow-wrap:anywhere}' +
  'h1{margin:0;font:500 25px/1.35 Georgia,serif}' +
  'p,dl,form{margin:16px 0 0}.from{margin:0 0 12px;color:var(--soft-ink)}' +
  'h2{margin:24px 0 0;font-size:15px;font-weight:400;color:var(--soft-ink)}' +
  'dl{display:grid;grid-template-columns:1fr auto;margin-top:6px;border-top:1px solid var(--line)}' +
  'dt,dd{margin:0;padding:6px 0;border-bottom:1px solid var(--line)}dd{text-align:end;font-variant-numeric:tabular-nums}' +
  'button{min-height:46px;padding:8px 26px;border:0;border-radius:3px;background:var(--indigo);' +
  'color:var(--on-indigo);font:inherit;cursor:pointer}' +
  'input{width:100%;min-height:46px;margin-top:4px;padding:8px 12px;border:1px solid var(--edge);border-radius:3px;' +
  'background:var(--panel);color:var(--ink);font:inherit}' +
  'a{color:var(--indigo);display:inline-block;min-height:24px}.problem{color:var(--madder)}' +
  ':focus-visible{outline:2px solid var(--indigo);outline-offset:2px}';

/** The sentences that are a whole page. */
type PlainSentence = 'nothingHere' | 'unknownLink' | 'fileOver' | 'openFirst' | 'viewOnly';

interface Page {
  /** What it is about, in the reader’s language. */
  heading: string;
  /** Who wrote to the reader; empty where nobody did. */
  from?: string;
  /** HTML, in which everything from outside is escaped. */
  body?: string;
}

/** A page of one sentence, in the language of the reader’s browser. */
export function plain(response: ServerResponse, status: number, sentence: PlainSentence): void {
  const { language, sentences } = spokenTo(response);
  send(response, status, language, { heading: sentences[sentence] });
}

/** A page of one sentence for programs, and for whoever works with Kiraku. */
export function plainEnglish(response: ServerResponse, status: number, heading: string): void {
  send(response, status, 'en', { heading });
}

/** A page in the language of the reader’s browser. */
export function page(response: ServerResponse, status: number, make: (sentences: PublicSentences) => Page): void {
  const { language, sentences } = spokenTo(response);
  send(response, status, language, make(sentences));
}

/** A sentence as HTML, with who wrote to the reader in its place, whichever way their name is written. */
export function about(sentence: string, sender: string): string {
  return escapeHtml(sentence).replace('{sender}', () => `<bdi>${escapeHtml(sender)}</bdi>`);
}

/** The language of the reader’s browser, as far as it is spoken. */
export function spokenTo({ req }: ServerResponse): { language: PublicLanguage; sentences: PublicSentences } {
  const language = publicLanguage(req.headers['accept-language']);
  return { language, sentences: publicSentences(language) };
}

function send(
  response: ServerResponse,
  status: number,
  language: PublicLanguage,
  { heading, from = '', body = '' }: Page,
): void {
  const title = escapeHtml(heading);
  const html =
    `<!doctype html><html lang="${language}" dir="${publicSentences(language).dir}"><meta charset="utf-8">` +
    `<meta name="viewport" content="width=device-width"><title>${title}</title><style>${STYLE}</style><main>` +
    (from && `<p class="from"><bdi>${escapeHtml(from)}</bdi></p>`) +
    `<h1>${title}</h1>${body}</main></html>`;
  response
    .writeHead(status, { ...PAGE_HEADERS, Vary: 'Accept-Language', 'Content-Length': Buffer.byteLength(html) })
    .end(html);
}
