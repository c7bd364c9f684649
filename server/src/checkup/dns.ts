import { Resolver } from 'node:dns/promises';
import { Injectable } from '@nestjs/common';

const MAX_LOOKUP_MS = 4000;
/** The name, or a record of this type, is not there. */
const NONE = new Set(['ENOTFOUND', 'ENODATA']);

/** Asks the name servers of this machine. */
@Injectable()
export class Dns {
  readonly resolver = new Resolver({ timeout: MAX_LOOKUP_MS, tries: 2 });

  /**
   * The TXT records of a name, each as one text (RFC 7208, section 3.3); none where there are none.
   *
   * @throws where no name server answers
   */
  async texts(name: string): Promise<string[]> {
    try {
      return (await this.resolver.resolveTxt(name)).map((parts) => parts.join(''));
    } catch (error) {
      if (NONE.has((error as { code: string }).code)) return [];
      throw error;
    }
  }
}
