import type { DraftContent, Mailbox } from '@kiraku/core/contract';
import { isLinked, withFileBlocks } from '@kiraku/core/files';
import { disclosureOf, OPT_OUT_PLACE } from '@kiraku/core/message';
import { planInstrumenting, instrument } from '@kiraku/core/tracking';
import type { CarriedFile } from '../files/files.service.js';
import { composeCopy, type InlinePicture } from './compose.js';
import { newPlace, placesOf, urlsWith, type OutgoingMessage } from './outgoingMessage.js';
import { leavingBody, bodyDocument, bodyText } from './messageBody.js';

/** What a message is sent with besides its own content. */
export interface WritingContext {
  sender: Mailbox;
  date: Date;
  /** The disclosure's wording. */
  disclosure: string;
  pictures: InlinePicture[];
  files: readonly CarriedFile[];
  bytesOf(file: CarriedFile): Promise<Buffer>;
  /** Whether it is one of many alike, which recipients may opt out of. */
  isOfRound: boolean;
}

/** A message written at the desk: each copy is composed anew, with a Message-ID of its own. */
export function writtenMessage(draft: DraftContent, setting: WritingContext): OutgoingMessage {
  const { sender, date, pictures, files } = setting;
  const links = planInstrumenting(draft.html).links;
  const foot = disclosureOf(setting.disclosure);
  const place = newPlace();
  const shared = files.filter(isLinked);
  const own = leavingBody(draft.html);
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
  const { recipients, subject, requestMdn, conversation } = draft;
  return {
    messageIdHeader: null,
    links,
    tracked: links.map((link) => draft.trackClicks && !link.leftAlone),
    files,
    trackOpens: draft.trackOpens,
    disclose: draft.disclose,
    isOfRound: setting.isOfRound,
    requestDsn: draft.requestDsn,
    requestMdn,
    shared: null,
    envelope: null,
    make: async ({ messageIdHeader, imageUrl, linkUrls, fileUrls, optOutUrl, namesBcc = false }) => {
      const places = placesOf(shared, place, fileUrls);
      const { plan, disclosedPlan, text } = places.size > 0 ? linked : bare;
      const used = optOutUrl ? disclosedPlan : plan;
      const words = [...places].reduce((so, [from, to]) => so.replaceAll(from, to), text);
      const own = await composeCopy({
        sender,
        recipients,
        subject,
        html: instrument(used, { imageUrl, linkUrls: urlsWith(used, linkUrls, places, optOutUrl) }),
        text: optOutUrl ? `${words}\n\n${foot.text.replace(OPT_OUT_PLACE, optOutUrl)}` : words,
        messageId: messageIdHeader,
        date,
        requestMdn,
        conversation,
        pictures,
        attachments: await attachmentsOf(setting),
        namesBcc,
        oneClickUrl: setting.isOfRound ? optOutUrl : null,
      });
      return { own, pieces: null };
    },
  };
}

/** A message’s body ready to be instrumented, with and without the line that tells of it. */
function plansOf(body: string, foot: string) {
  return {
    plan: planInstrumenting(bodyDocument(body)),
    disclosedPlan: planInstrumenting(bodyDocument(body + foot)),
    text: bodyText(body),
  };
}

/** What travels as an attachment. */
function attachmentsOf({ files, bytesOf }: WritingContext) {
  const attached = files.filter((file) => !isLinked(file));
  return Promise.all(
    attached.map(async (one) => ({ name: one.name, mediaType: one.version.mediaType, bytes: await bytesOf(one) })),
  );
}
