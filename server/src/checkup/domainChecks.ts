import { isIP } from 'node:net';
import { domainToASCII } from 'node:url';
import { Inject, Injectable } from '@nestjs/common';
import { attention, dmarcFinding, failing, fine, notInUse, spfFinding, withThoseAbove } from '@kiraku/core/checkup';
import type { Finding } from '@kiraku/core/contract';
import { domainOf } from '@kiraku/core/message';
import { CONFIG, type Config } from '../environment/config.js';
import { AccountService } from '../settings/account.service.js';
import { DkimService } from '../settings/dkim.service.js';
import { tryDkim } from '../settings/dkimTrial.js';
import type { Checks } from './check.js';
import { Dns } from './dns.js';

/** Names that nobody has (RFC 2606, section 2). */
const RESERVED_NAMES = /(^|\.)(example|test|invalid|localhost)$/;
const RESERVED = notInUse('This domain is one of examples: nobody can publish anything for it.');

/** What recipients' mail servers find in the DNS about the domains in your mail. */
@Injectable()
export class DomainChecks {
  readonly checks: Checks = {
    spf: () => this.spf(),
    dkim: () => this.dkim(),
    dmarc: () => this.dmarc(),
    'link-domain': () => this.linkDomain(),
  };

  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly accounts: AccountService,
    private readonly signing: DkimService,
    private readonly dns: Dns,
  ) {}

  private get domain(): string {
    return domainToASCII(domainOf(this.accounts.sender().address));
  }

  private get isReserved(): boolean {
    return RESERVED_NAMES.test(this.domain);
  }

  private async spf(): Promise<Finding> {
    if (this.isReserved) return RESERVED;
    return spfFinding(this.domain, await this.dns.texts(this.domain), this.accounts.smtpAccess().host);
  }

  private async dkim(): Promise<Finding> {
    const view = this.signing.view();
    if (!view) return notInUse('Kiraku does not sign your mail. Most providers do it for you.');
    const { ok, words } = await tryDkim(view, this.dns.resolver.getServers());
    if (ok) return fine(words);
    const name = `${view.selector}._domainkey.${view.domain}`;
    return failing(words, 'Publish the record.', [{ name, type: 'TXT', value: view.record }]);
  }

  /** Where the domain has none, that of the nearest domain above it holds (RFC 7489, section 6.6.3). */
  private async dmarc(): Promise<Finding> {
    if (this.isReserved) return RESERVED;
    const { address } = this.accounts.sender();
    for (const domain of withThoseAbove(this.domain)) {
      const records = await this.dns.texts(`_dmarc.${domain}`);
      if (records.length > 0) return dmarcFinding(domain, records, address);
    }
    return dmarcFinding(this.domain, [], address);
  }

  private async linkDomain(): Promise<Finding> {
    const { hostname } = new URL(this.config.publicUrl);
    if (isIP(hostname.replace(/[[\]]/g, '')) !== 0 || !hostname.includes('.'))
      return attention('Links in your mail name a number, and no domain.', 'Give the public address a name of yours.');
    const { domain } = this;
    if (hostname === domain || hostname.endsWith(`.${domain}`))
      return fine(`Links lead to ${hostname}, on your own domain.`);
    return attention(
      `Links lead to ${hostname}, and your mail comes from ${domain}.`,
      `Filters trust links on the sender’s own domain more: use a name like links.${domain}.`,
    );
  }
}
