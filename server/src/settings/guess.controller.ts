import { resolveSrv } from 'node:dns/promises';
import { Controller, Get, Query } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiTags } from '@nestjs/swagger';
import { IsString, MaxLength } from 'class-validator';
import type { AccountGuess, SmtpSecurity } from '@kiraku/core/contract';
import { addressProblem, domainOf } from '@kiraku/core/message';

/** RFC 6186, section 3.1, and RFC 8314, section 5.1: the service names, the encrypted one first. */
const SERVICES: [service: string, security: SmtpSecurity][] = [
  ['_submissions._tcp', 'tls'],
  ['_submission._tcp', 'starttls'],
];
const TIMEOUT_MS = 4000;

class GuessQuery {
  @ApiProperty({ example: 'ines@tallowreed.example' })
  @IsString()
  @MaxLength(254)
  address: string;
}

@ApiTags('settings')
@Controller('api/account')
export class GuessController {
  @Get('guess')
  @ApiOperation({ summary: 'The way out that an address’s own domain announces in the DNS (RFC 6186)' })
  async guess(@Query() { address }: GuessQuery): Promise<{ guess: AccountGuess | null }> {
    if (addressProblem(address)) return { guess: null };
    for (const [service, smtpSecurity] of SERVICES) {
      const [best] = await announced(`${service}.${domainOf(address)}`);
      if (best) return { guess: { smtpHost: best.name, smtpPort: best.port, smtpSecurity, smtpUser: address } };
    }
    return { guess: null };
  }
}

/** Lowest priority first, then the greatest weight (RFC 2782); a single “.” says that there is no such service. */
async function announced(name: string): Promise<{ name: string; port: number }[]> {
  const none = new Promise<never[]>((resolve) => setTimeout(() => resolve([]), TIMEOUT_MS).unref());
  const records = await Promise.race([resolveSrv(name).catch(() => []), none]);
  return records
    .filter((record) => record.name !== '' && record.name !== '.')
    .sort((a, b) => a.priority - b.priority || b.weight - a.weight);
}
