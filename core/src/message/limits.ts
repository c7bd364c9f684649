/** What one message may hold. Each limit is named to the person who reaches it. */
export const MESSAGE_LIMITS = {
  maxRecipients: 500,
  /** RFC 5321, section 4.5.3.1.3, less the angle brackets. */
  maxAddressChars: 254,
  maxNameChars: 200,
  /** A header line may be folded, but no mail program shows more. */
  maxSubjectChars: 900,
  maxHtmlChars: 2_000_000,
  maxLinks: 500,
  maxNoteChars: 10_000,
  /** Of the name of a folder of templates. */
  maxFolderChars: 60,
  /** Ten years: longer than anybody wants to be notified of one message. */
  maxTrackForDays: 3650,
  /** Message-IDs of one conversation: the newest are kept. */
  maxConversationIds: 50,
  maxPictureBytes: 5_000_000,
  /** Of a mail that is opened as a draft. */
  maxMailBytes: 50 * 1024 * 1024,
} as const;
