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
  UNWANTED_MAIL,
  type ImapSecurity,
  type MailboxWay,
  type UnwantedMail,
} from '@kiraku/core/contract';

const HOST_LENGTH = 255;

export class MailboxDto {
  @ApiProperty({ enum: MAILBOX_WAYS, description: 'Not at all, looked into by IMAP, or brought by LMTP' })
  @IsIn(MAILBOX_WAYS)
  way: MailboxWay;

  @ApiProperty({ example: 'imap.tallowreed.example' })
  @IsString()
  @MaxLength(HOST_LENGTH)
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
  @MaxLength(HOST_LENGTH)
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

  @ApiPropertyOptional({ enum: UNWANTED_MAIL, description: 'What becomes of mail that is brought and not taken' })
  @IsOptional()
  @IsIn(UNWANTED_MAIL)
  unwanted?: UnwantedMail;
}
