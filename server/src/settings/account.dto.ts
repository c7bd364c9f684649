import { ApiProperty, ApiPropertyOptional, IntersectionType } from '@nestjs/swagger';
import { IsIn, IsInt, IsOptional, IsString, Length, Matches, Max, MaxLength, Min } from 'class-validator';
import {
  SMTP_AUTHS,
  SMTP_SECURITIES,
  type SmtpAuth,
  type SmtpSecurity,
  type AccountRequest,
} from '@kiraku/core/contract';

const ONE_LINE = /^[^\p{Cc}]*$/u;

/** Who sends. */
export class SenderDto {
  @ApiProperty({ example: 'Ines Valdaro' })
  @IsString()
  @Length(1, 200, { message: 'Your name must have 1 to 200 characters' })
  @Matches(ONE_LINE, { message: 'Your name must be a single line' })
  name: string;

  @ApiProperty({ example: 'ines@tallowreed.example' })
  @IsString()
  address: string;
}

/** How mail goes out. */
export class OutgoingServerDto {
  @ApiProperty({ example: 'smtp.tallowreed.example' })
  @IsString()
  @Matches(/^[\p{L}\p{N}.:[\]-]{1,253}$/u, { message: 'The outgoing mail server must be a host name or an IP address' })
  smtpHost: string;

  @ApiProperty({ example: 587 })
  @IsInt({ message: 'The port must be a number' })
  @Min(1, { message: 'The port must be at least 1' })
  @Max(65535, { message: 'The port must be at most 65535' })
  smtpPort: number;

  @ApiProperty({ enum: SMTP_SECURITIES })
  @IsIn(SMTP_SECURITIES)
  smtpSecurity: SmtpSecurity;

  @ApiProperty({ example: 'ines', description: 'Empty where the server asks for no login' })
  @IsString()
  @MaxLength(320)
  smtpUser: string;

  @ApiPropertyOptional({ enum: SMTP_AUTHS })
  @IsOptional()
  @IsIn(SMTP_AUTHS)
  smtpAuth: SmtpAuth = 'password';

  @ApiPropertyOptional({ description: 'Left out: the stored one stays' })
  @IsOptional()
  @IsString()
  @MaxLength(8000)
  smtpPassword?: string;
}

export class AccountDto extends IntersectionType(SenderDto, OutgoingServerDto) implements AccountRequest {}
