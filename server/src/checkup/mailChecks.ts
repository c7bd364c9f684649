import { X509Certificate } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Inject, Injectable } from '@nestjs/common';
import { attention, certificateFinding, failing, fine } from '@kiraku/core/checkup';
import type { Finding } from '@kiraku/core/contract';
import { NO_SERVER } from '../delivery/outgoingServer.js';
import { tryPort } from '../delivery/portTrial.js';
import { smtpLoginProblem } from '../delivery/smtpTrial.js';
import { Clock } from '../environment/clock.js';
import { CONFIG, type Config } from '../environment/config.js';
import { isEverywhere } from '../environment/reachedHost.js';
import { MailboxFollower } from '../incoming/mailboxFollower.js';
import { AccountService } from '../settings/account.service.js';
import { CERTIFICATE_FILES } from '../submission/certificate.js';
import { SubmissionServer } from '../submission/submission.server.js';
import type { Checks } from './check.js';

/** Whether mail goes out, and replies come in. */
@Injectable()
export class MailChecks {
  readonly checks: Checks = {
    outgoing: () => this.outgoing(),
    mailbox: () => this.mailbox(),
    submission: () => this.submission(),
  };

  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly accounts: AccountService,
    private readonly follower: MailboxFollower,
    private readonly submissionServer: SubmissionServer,
    private readonly clock: Clock,
  ) {}

  private async outgoing(): Promise<Finding> {
    const access = this.accounts.smtpAccess();
    if (access.host === '') return failing(NO_SERVER, null);
    const problem = await smtpLoginProblem(access, this.accounts.sender());
    if (problem !== null) return failing(problem, 'Correct it in Settings, Writing and sending.');
    return fine(`${access.host} accepts your mail.`);
  }

  private mailbox(): Finding {
    const problem = this.follower.replyProblem();
    if (problem === null) return fine('Replies, receipts and bounces are seen.');
    const advice = 'Look at Settings, Replies and receipts.';
    return this.follower.state().problem === null ? attention(`${problem}.`, advice) : failing(problem, advice);
  }

  private async submission(): Promise<Finding> {
    const trial = await tryPort(this.config.submissionHost, this.submissionServer.port);
    if (!trial.ok) return failing(trial.words, 'Free the port, or set KIRAKU_SUBMISSION_PORT, and start Kiraku again.');
    if (this.config.tls) return this.submissionFromOutside();
    const file = join(this.config.dataDir, CERTIFICATE_FILES[0]);
    const certificate = new X509Certificate(readFileSync(file));
    return certificateFinding(
      'the port for other mail apps',
      Date.parse(certificate.validTo),
      this.clock.now(),
      `Replace ${file} and its key, or remove both: Kiraku makes new ones when it starts.`,
    );
  }

  /** By its public name, as mail programs on the road come: to each port, and with the certificate looked at. */
  private async submissionFromOutside(): Promise<Finding> {
    const { submissionHost, submissionTlsPort, publicUrl } = this.config;
    if (!isEverywhere(submissionHost)) return fine('It has the certificate of the public address.');
    const { hostname: host } = new URL(publicUrl);
    const ports = [
      { port: this.submissionServer.port, security: 'starttls' as const },
      ...(submissionTlsPort === null ? [] : [{ port: submissionTlsPort, security: 'tls' as const }]),
    ];
    for (const one of ports) {
      const { port } = one;
      const access = { ...this.accounts.smtpAccess(), host, ...one, user: '', password: null };
      const problem = await smtpLoginProblem(access, this.accounts.sender());
      if (problem !== null)
        return failing(
          problem,
          `The name must lead to this machine, port ${port} be open from outside, and the certificate be trusted.`,
        );
    }
    return fine(`Mail apps reach it as ${host}, on ${ports.map(({ port }) => `port ${port}`).join(' and ')}.`);
  }
}
