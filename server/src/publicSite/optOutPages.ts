import type { ServerResponse } from 'node:http';
import { escapeHtml } from '@kiraku/core/message';
import type { PublicSentences } from '@kiraku/core/publicPages';
import type { Recorded } from '../tracking/optOutRecipients.repository.js';
import { about, page } from './publicPages.js';

/** What the page says on which a recipient opts out. */
export interface OptOutView {
  hasOptedOut: boolean;
  /** Who wrote to them. */
  sender: string;
  /** Whether it was one of many alike: whoever opts out gets no more of these. */
  isOfRound: boolean;
  /** How often what was recorded of them, in all that was sent to them. */
  recorded: Recorded;
}

/** Asks whether to decline, and says who sees what, and what was recorded of whoever asks. */
export function askOptOut(response: ServerResponse, view: OptOutView): void {
  page(response, 200, (sentences) => ({
    heading: sentences.optOutTitle,
    from: view.sender,
    body:
      `<p>${about(sentences.optOutExplains, view.sender)}</p>` +
      recordedOf(view, sentences) +
      `<p>${escapeHtml(sentences.optOutChanges)}</p>` +
      roundsOf(view, sentences) +
      form('', sentences.optOutButton),
  }));
}

export function optedOut(response: ServerResponse, view: OptOutView): void {
  const { sender } = view;
  page(response, 200, (sentences) => ({
    heading: sentences.optedOutTitle,
    from: sender,
    body:
      `<p>${about(sentences.optedOutExplains, sender)}</p>` +
      roundsOf(view, sentences) +
      `<p><a href="?back">${escapeHtml(sentences.changedMind)}</a></p>`,
  }));
}

export function askToAllow(response: ServerResponse, { sender }: OptOutView): void {
  page(response, 200, (sentences) => ({
    heading: sentences.allowTitle,
    from: sender,
    body: `<p>${about(sentences.allowExplains, sender)}</p>` + form('?again', sentences.allowButton),
  }));
}

function roundsOf({ sender, isOfRound }: OptOutView, sentences: PublicSentences): string {
  return isOfRound ? `<p>${about(sentences.optOutRounds, sender)}</p>` : '';
}

function recordedOf({ recorded }: OptOutView, sentences: PublicSentences): string {
  const rows = [
    [sentences.opened, recorded.opened],
    [sentences.clicked, recorded.clicked],
    [sentences.viewed, recorded.file_viewed],
  ] as const;
  const list = rows.map(([name, count]) => `<dt>${escapeHtml(name)}</dt><dd>${count}</dd>`).join('');
  return `<h2>${escapeHtml(sentences.recorded)}</h2><dl>${list}</dl>`;
}

function form(action: string, button: string): string {
  return `<form method="post"${action && ` action="${action}"`}><button>${escapeHtml(button)}</button></form>`;
}
