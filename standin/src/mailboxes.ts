import { randomBytes } from 'node:crypto';
import { mkdir, readdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { simpleParser, type ParsedMail } from 'mailparser';

/** A mail in a mailbox, as its list shows it. */
export interface MailEntry {
  id: string;
  from: string;
  subject: string;
  date: Date;
}

export interface MailboxEntry {
  address: string;
  mails: number;
}

/** A folder's name must be an address, and nothing that leads elsewhere. */
export function isMailboxName(address: string): boolean {
  return (
    /^[^/\\\p{Cc}@]+@[^/\\\p{Cc}@]+$/u.test(address) && !address.startsWith('.') && Buffer.byteLength(address) <= 250
  );
}

/** Recipients' mailboxes: a folder for each address, a raw file for each mail. */
export class Mailboxes {
  private readonly parsed = new Map<string, MailEntry>();

  constructor(private readonly folder: string) {}

  /** Keeps a mail as it came. Resolves when the file is whole and on the disk. */
  async keep(address: string, raw: Buffer): Promise<void> {
    const folder = join(this.folder, address.toLowerCase());
    await mkdir(folder, { recursive: true });
    const name = `${new Date().toISOString().replace(/[:.]/g, '-')}-${randomBytes(4).toString('hex')}.eml`;
    const partial = join(folder, `.${name}.part`);
    await writeFile(partial, raw, { flush: true });
    await rename(partial, join(folder, name));
  }

  /** Takes a mail out of a mailbox, as if it had never come. */
  async remove(address: string, id: string): Promise<void> {
    if (isMailboxName(address) && /^[\w-]+\.eml$/.test(id)) await rm(join(this.folder, address, id), { force: true });
  }

  async list(): Promise<MailboxEntry[]> {
    const addresses = (await filesOf(this.folder)).filter(isMailboxName).sort();
    return Promise.all(addresses.map(async (address) => ({ address, mails: (await this.ids(address)).length })));
  }

  /** Newest first, by the date that the sender wrote. */
  async mails(address: string): Promise<MailEntry[]> {
    const entries = await Promise.all((await this.ids(address)).map((id) => this.entry(address, id)));
    return entries.sort((a, b) => b.date.getTime() - a.date.getTime());
  }

  async read(address: string, id: string): Promise<ParsedMail | null> {
    const raw = await this.raw(address, id);
    return raw && simpleParser(raw, { skipHtmlToText: true });
  }

  async raw(address: string, id: string): Promise<Buffer | null> {
    if (!isMailboxName(address) || !/^[\w-]+\.eml$/.test(id)) return null;
    return readFile(join(this.folder, address, id)).catch(() => null);
  }

  private async ids(address: string): Promise<string[]> {
    if (!isMailboxName(address)) return [];
    return (await filesOf(join(this.folder, address))).filter((name) => /^[\w-]+\.eml$/.test(name));
  }

  private async entry(address: string, id: string): Promise<MailEntry> {
    const key = `${address}/${id}`;
    const known = this.parsed.get(key);
    if (known) return known;
    const mail = (await this.read(address, id))!;
    const entry = { id, from: mail.from?.text ?? '', subject: mail.subject ?? '', date: mail.date ?? new Date(0) };
    this.parsed.set(key, entry);
    return entry;
  }
}

function filesOf(folder: string): Promise<string[]> {
  return readdir(folder).catch(() => []);
}
