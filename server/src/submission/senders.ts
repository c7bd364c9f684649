import { Injectable } from '@nestjs/common';
import type { AddressObject, ParsedMail } from 'mailparser';
import { fieldCount } from '../mime/header.js';
import { mailboxesOf } from './mailboxesOf.js';
import { OwnAddresses } from './ownAddresses.js';
import { Refusal } from './refusal.js';

/** Who mail may be submitted as. */
@Injectable()
export class Senders {
  constructor(private readonly ownAddresses: OwnAddresses) {}

  /** Refuses a sender address that is not the account's own, and was not allowed besides. */
  check(address: string): void {
    // What must not be replied to comes from no address (RFC 5321, section 4.5.5): receipts of mail programs.
    if (address === '' || this.ownAddresses.has(address)) return;
    const allowed = this.ownAddresses.keys();
    throw new Refusal(553, '5.7.1', `Kiraku sends as ${allowed.join(', ')} only. Allow ${address} in its settings.`);
  }

  /**
   * Refuses a mail that names anybody else as its author. Returns the first author's address; undefined where none is named.
   */
  checkAuthors(header: string, { from, headers }: ParsedMail): string | undefined {
    const fields = fieldCount(header, 'From');
    // RFC 5322, section 3.6: programs that show the second one would show somebody else.
    if (fields > 1) throw new Refusal(554, '5.6.0', 'This message has more than one From field. Send it with one.');
    const authors = mailboxesOf(from);
    if (fields === 1 && authors.length === 0)
      throw new Refusal(554, '5.6.0', 'This message names no address in its From field.');
    const sender = mailboxesOf(headers.get('sender') as AddressObject | undefined);
    for (const { address } of [...authors, ...sender]) this.check(address);
    return authors[0]?.address;
  }
}
