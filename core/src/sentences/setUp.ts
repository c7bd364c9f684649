import { SET_UP_STEPS, type EventView, type SetUpStep } from '../contract/index.js';
import { deviceText, eventSentence } from './event.js';

/** What each step is about: its title, and why one would take it. */
export const SET_UP_TEXTS: Record<SetUpStep, { title: string; words: string }> = {
  outgoing: {
    title: 'Outgoing mail',
    words: 'Your messages leave by your own mail server, as they do now.',
  },
  'public-address': {
    title: 'Public address',
    words:
      'Recipients’ programs load images and follow links at an address of yours. It must be reachable from outside.',
  },
  replies: {
    title: 'Replies',
    words: 'Kiraku sees replies, receipts and bounces, and shows each with the message that it belongs to.',
  },
  tracking: {
    title: 'What to track',
    words: 'What new messages begin with. Each message can do otherwise.',
  },
  backups: {
    title: 'Backups',
    words: 'Once a night, so that nothing is lost with this machine. They need a passphrase of their own.',
  },
  'first-message': {
    title: 'A first message',
    words: 'Send one to yourself, open it on your phone, and see it arrive here.',
  },
};

/** “Step 3 of 6”. */
export function setUpStepText(step: SetUpStep): string {
  return `Step ${SET_UP_STEPS.indexOf(step) + 1} of ${SET_UP_STEPS.length}`;
}

/** The step after one; null after the last. */
export function nextSetUpStep(step: SetUpStep): SetUpStep | null {
  return SET_UP_STEPS[SET_UP_STEPS.indexOf(step) + 1] ?? null;
}

/** What was seen of the first message: also what does not count, since one reads it oneself. */
export function firstSeenSentence(event: EventView): string {
  const what = `${eventSentence(event)}: ${deviceText(event)}.`;
  return event.counted ? what : `${what} Your own opens are shown, and do not count.`;
}
