/** How long what is known of readers is kept, and whom nothing is to be known of. */
export interface PrivacyView {
  /** Days after which addresses, programs and places of readers are forgotten; null where never. */
  forgetReadersDays: number | null;
  /** Days after which everything that happened to a message is forgotten; null where never. */
  forgetEventsDays: number | null;
  /** Domains not to track. */
  untrackedDomains: string[];
}

/** One person, with everything that is known of them. */
export interface PersonData {
  person: {
    id: number;
    name: string;
    address: string;
    company: string;
    phone: string;
    /** IANA name; empty where it is not known. */
    zone: string;
    /** The sender’s own; never sent. */
    note: string;
    /** The sender’s own; never sent. */
    tags: string[];
    /** Since when they are muted; null where they are not. */
    mutedAt: number | null;
    createdAt: number;
    doNotTrack: boolean;
    /** When they declined themselves. */
    optedOutAt: number | null;
  };
  messages: { messageId: number; subject: string; as: 'to' | 'cc' | 'bcc'; sentAt: number | null; state: string }[];
  /** What they, or their programs and servers, wrote back. */
  incoming: { at: number; kind: string; from: string; subject: string; words: string; html: string }[];
  events: {
    at: number;
    kind: string;
    counted: boolean;
    reason: string | null;
    subject: string;
    link: string | null;
    file: string | null;
    /** The page that was read, and for how long. */
    page: number | null;
    readMs: number | null;
    /** What a reader gave who was asked for it. */
    givenAddress: string | null;
    ip: string | null;
    userAgent: string | null;
    place: string | null;
  }[];
}
