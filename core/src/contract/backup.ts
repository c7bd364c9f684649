/** A backup that is kept. */
export interface BackupEntry {
  name: string;
  /** When it was made, in epoch milliseconds. */
  at: number;
  /** Of the database, before it was compressed, and of all files that it has. */
  bytes: number;
  messages: number;
  people: number;
  events: number;
}

export interface BackupView {
  /** On the machine that Kiraku runs on. */
  folder: string;
  /** Whether there is a passphrase for them: without one none is made. */
  hasPassphrase: boolean;
  isUnderWay: boolean;
  /** When the next one is made; null where none is. */
  nextAt: number | null;
  /** Why the last one failed, in words; null where it did not. */
  lastError: { at: number; text: string } | null;
  /** The newest first. */
  backups: BackupEntry[];
}

/** The passphrase that backups are opened with: it replaces the one before, for those to come. */
export interface BackupPassphraseRequest {
  passphrase: string;
}
