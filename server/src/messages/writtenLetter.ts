import type { DraftContent, Mailbox } from '@kiraku/core/contract';
import { disclosureOf, OPT_OUT_PLACE } from '@kiraku/core/message';
import { planLetter, weave } from '@kiraku/core/tracking';
import { composeCopy, type InlinePicture } from './compose.js';
import { urlsWithOptOut, type CopyLetter } from './copyLetter.js';
import { leavingLetter, letterDocument, letterText } from './letter.js';

/** What a letter is sent with besides its own content. */
export interface LetterSetting {
  sender: Mailbox;
  date: Date;
  /** The disclosure's wording. */
  disclosure: string;
  pictures: InlinePicture[];
}

/** A letter written at the desk: each copy is composed anew, with a Message-ID of its own. */
export function writtenLetter(draft: DraftContent, { sender, date, disclosure, pictures }: LetterSetting): CopyLetter {
  const links = planLetter(draft.html).links;
  const foot = disclosureOf(disclosure);
  const body = leavingLetter(draft.html);
  const plan = planLetter(letterDocument(body));
  const disclosedPlan = planLetter(letterDocument(body + foot.html));
  const text = letterText(draft.html);
  const { recipients, subject, readReceipt, conversation } = draft;
  return {
    messageIdHeader: null,
    links,
    tracked: links.map((link) => draft.trackLinks && !link.leftAlone),
    trackOpens: draft.trackOpens,
    disclose: draft.disclose,
    deliveryReceipt: draft.deliveryReceipt,
    make: ({ messageIdHeader, imageUrl, linkUrls, optOutUrl }) =>
      composeCopy({
        sender,
        recipients,
        subject,
        html: optOutUrl
          ? weave(disclosedPlan, { imageUrl, linkUrls: urlsWithOptOut(disclosedPlan, linkUrls, optOutUrl) })
          : weave(plan, { imageUrl, linkUrls }),
        text: optOutUrl ? `${text}\n\n${foot.text.replace(OPT_OUT_PLACE, optOutUrl)}` : text,
        messageId: messageIdHeader,
        date,
        readReceipt,
        conversation,
        pictures,
      }),
  };
}
