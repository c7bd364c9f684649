import { ApiProperty, ApiPropertyOptional } from '@nestjs/swagger';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Max,
  MaxLength,
  Min,
} from 'class-validator';
import {
  IMAP_SECURITIES,
  MAILBOX_WAYS,
  UNMATCHED_MAIL,
  type ImapSecurity,
  type MailboxWay,
  type UnmatchedMail,
  type MailboxRequest,
} from '@kiraku/core/contract';

const MAX_HOST_CHARS = 255;

export class MailboxDto implements MailboxRequest {
  @ApiProperty({ enum: MAILBOX_WAYS, description: 'Not read, read by IMAP, or delivered by LMTP' })
  @IsIn(MAILBOX_WAYS)
  way: MailboxWay;

  @ApiProperty({ example: 'imap.tallowreed.example' })
  @IsString()
  @MaxLength(MAX_HOST_CHARS)
  host: string;

  @ApiProperty({ example: 993 })
  @IsInt()
  @Min(1)
  @Max(65535)
  port: number;

  @ApiProperty({ enum: IMAP_SECURITIES })
  @IsIn(IMAP_SECURITIES)
  security: ImapSecurity;

  @ApiProperty()
  @IsString()
  @MaxLength(MAX_HOST_CHARS)
  user: string;

  @ApiPropertyOptional({ description: 'Left out: the one that is stored' })
  @IsOptional()
  @IsString()
  @MaxLength(4000)
  password?: string;

  @ApiProperty({ description: 'Paths of folders besides the inbox' })
  @IsArray()
  @ArrayMaxSize(20)
  @IsString({ each: true })
  @MaxLength(400, { each: true })
  folders: string[];

  @ApiProperty({ description: 'Puts the clean copy of what is sent into the folder of sent mail' })
  @IsBoolean()
  storesSent: boolean;

  @ApiPropertyOptional({ enum: UNMATCHED_MAIL, description: 'What becomes of mail that is delivered and not accepted' })
  @IsOptional()
  @IsIn(UNMATCHED_MAIL)
  unmatched?: UnmatchedMail;
}
