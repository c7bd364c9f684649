import { Injectable } from '@nestjs/common';
import type { CheckName } from '@kiraku/core/contract';
import { AddressChecks } from './addressChecks.js';
import type { Check } from './check.js';
import { DomainChecks } from './domainChecks.js';
import { MachineChecks } from './machineChecks.js';
import { MailChecks } from './mailChecks.js';

/** All checks, by their names. */
@Injectable()
export class AllChecks {
  readonly checks: Record<CheckName, Check>;

  constructor(
    private readonly addresses: AddressChecks,
    mail: MailChecks,
    domains: DomainChecks,
    machine: MachineChecks,
  ) {
    this.checks = { ...addresses.checks, ...mail.checks, ...domains.checks, ...machine.checks } as Record<
      CheckName,
      Check
    >;
  }

  /** For a browser to ask whether it reaches the public address. */
  reachUrl(): string {
    return this.addresses.url();
  }
}
