import type { DraftContent, Mailbox } from '@kiraku/core/contract';
import { isLinked, withFileBlocks } from '@kiraku/core/files';
import { disclosureOf, OPT_OUT_PLACE } from '@kiraku/core/message';
import { planLetter, weave } from '@kiraku/core/tracking';
import type { CarriedFile } from '../files/files.service.js';
import { composeCopy, type InlinePicture } from './compose.js';
import { newPlace, placesOf, urlsWith, type CopyLetter } from './copyLetter.js';
import { leavingLetter, letterDocument, letterText } from './letter.js';

/** What a letter is sent with besides its own content. */
export interface LetterSetting {
  sender: Mailbox;
  date: Date;
  /** The disclosure's wording. */
  disclosure: string;
  pictures: InlinePicture[];
  files: readonly CarriedFile[];
  bytesOf(file: CarriedFile): Promise<Buffer>;
}

/** A letter written at the desk: each copy is composed anew, with a Message-ID of its own. */
export function writtenLetter(draft: DraftContent, setting: LetterSetting): CopyLetter {
  const { sender, date, pictures, files } = setting;
  const links = planLetter(draft.html).links;
  const foot = disclosureOf(setting.disclosure);
  const place = newPlace();
  const shared = files.filter(isLinked);
  const own = leavingLetter(draft.html);
  const linked = plansOf(
    withFileBlocks(own, shared, ({ fileId }) => place + fileId),
    foot.html,
  );
  // As its sender keeps it, a file is named and leads nowhere.
  const bare =
    shared.length === 0
      ? linked
      : plansOf(
          withFileBlocks(own, shared, () => null),
          foot.html,
        );
  const { recipients, subject, readReceipt, conversation } = draft;
  return {
    messageIdHeader: null,
    links,
    tracked: links.map((link) => draft.trackLinks && !link.leftAlone),
    files,
    trackOpens: draft.trackOpens,
    disclose: draft.disclose,
    deliveryReceipt: draft.deliveryReceipt,
    readReceipt,
    ...{ shared: null, envelope: null },
    make: async ({ messageIdHeader, imageUrl, linkUrls, fileUrls, optOutUrl, namesBcc = false }) => {
      const places = placesOf(shared, place, fileUrls);
      const { plan, disclosedPlan, text } = places.size > 0 ? linked : bare;
      const used = optOutUrl ? disclosedPlan : plan;
      const words = [...places].reduce((so, [from, to]) => so.replaceAll(from, to), text);
      const own = await composeCopy({
        sender,
        recipients,
        subject,
        html: weave(used, { imageUrl, linkUrls: urlsWith(used, linkUrls, places, optOutUrl) }),
        text: optOutUrl ? `${words}\n\n${foot.text.replace(OPT_OUT_PLACE, optOutUrl)}` : words,
        messageId: messageIdHeader,
        date,
        readReceipt,
        conversation,
        pictures,
        attachments: await attachmentsOf(setting),
        namesBcc,
      });
      return { own, pieces: null };
    },
  };
}

/** A letter’s body ready to be woven, with and without the line that tells of it. */
function plansOf(body: string, foot: string) {
  return {
    plan: planLetter(letterDocument(body)),
    disclosedPlan: planLetter(letterDocument(body + foot)),
    text: letterText(body),
  };
}

/** What travels in the mail itself. */
function attachmentsOf({ files, bytesOf }: LetterSetting) {
  const attached = files.filter((file) => !isLinked(file));
  return Promise.all(
    attached.map(async (one) => ({ name: one.name, mediaType: one.version.mediaType, bytes: await bytesOf(one) })),
  );
}
