/** What one message may hold. Each limit is told to the person who reaches it. */
export const MESSAGE_LIMITS = {
  recipients: 500,
  /** RFC 5321, section 4.5.3.1.3, less the angle brackets. */
  addressLength: 254,
  nameLength: 200,
  /** A header line may be folded, but no mail program shows more. */
  subjectLength: 900,
  htmlLength: 2_000_000,
  links: 500,
  noteLength: 10_000,
  /** Ten years: longer than anybody wants to be told of one letter. */
  trackForDays: 3650,
  /** Message-IDs of one conversation: the newest are kept. */
  conversation: 50,
  pictureBytes: 5_000_000,
  /** Of a mail that is opened as a draft. */
  mailBytes: 50 * 1024 * 1024,
} as const;
