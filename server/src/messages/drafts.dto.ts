import { applyDecorators } from '@nestjs/common';
import { ApiProperty, ApiPropertyOptional } from '@nestjs/swagger';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  IsTimeZone,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateNested,
} from 'class-validator';
import {
  CONDITIONS,
  FILE_WAYS,
  RECIPIENT_KINDS,
  STEP_CONDITIONS,
  type Condition,
  type DraftContent,
  type DraftFile,
  type DraftPlan,
  type DraftReminder,
  type DraftStep,
  type FileWay,
  type Mailbox,
  type RecipientKind,
  type RoundContent,
  type StepCondition,
  type SaveDraftRequest,
} from '@kiraku/core/contract';
import { FILE_LIMITS } from '@kiraku/core/files';
import { PLAN_LIMITS } from '@kiraku/core/followups';
import { MESSAGE_LIMITS } from '@kiraku/core/message';

/** No line breaks (they would add headers) and nothing that turns the direction of the rest (bidirectional controls). */
export const HEADER_TEXT = /^[^\p{Cc}\u2028\u2029\u202a-\u202e\u2066-\u2069]*$/u;

/** RFC 5322, section 3.6.4, of any printable ASCII without blanks. */
const MESSAGE_ID = /^<[!-;=?-~]{1,250}>$/;

export class MailboxDto implements Mailbox {
  @ApiProperty({ example: 'Marit Oakes' })
  @IsString()
  @MaxLength(MESSAGE_LIMITS.maxNameChars)
  @Matches(HEADER_TEXT, { message: 'A name must be a single line without invisible characters' })
  name: string;

  @ApiProperty({ example: 'marit@lindqvist.example' })
  @IsString()
  @MaxLength(MESSAGE_LIMITS.maxAddressChars)
  address: string;
}

export class RecipientDto extends MailboxDto {
  @ApiProperty({ enum: RECIPIENT_KINDS })
  @IsIn(RECIPIENT_KINDS)
  kind: RecipientKind;
}

export class DraftFileDto implements DraftFile {
  @ApiProperty({ description: 'Number of a file of the library' })
  @IsInt()
  fileId: number;

  @ApiPropertyOptional({ description: 'Of what was sent; a draft has none' })
  @IsOptional()
  @IsInt()
  versionId: number | null = null;

  @ApiProperty({ enum: FILE_WAYS, description: 'Tracked link, or attachment, which is not tracked' })
  @IsIn(FILE_WAYS)
  way: FileWay;

  @ApiPropertyOptional({ description: 'Shows the newest version, also of later days' })
  @IsOptional()
  @IsBoolean()
  followsNewest = false;

  @ApiPropertyOptional()
  @IsOptional()
  @IsBoolean()
  mayDownload = true;

  @ApiPropertyOptional({ description: 'For how many days after sending it can be seen; null for ever' })
  @IsOptional()
  @IsInt()
  @Min(1)
  @Max(FILE_LIMITS.maxOpenForDays)
  openForDays: number | null = null;

  @ApiPropertyOptional({ description: 'Asks for an email address before it is shown' })
  @IsOptional()
  @IsBoolean()
  asksAddress = false;
}

const MAX_ZONE_CHARS = 60;
const isZone = { message: 'There is no such time zone' };

export class ReminderDto implements DraftReminder {
  @ApiProperty({ example: 'in 2 days' })
  @IsString()
  @MaxLength(100)
  when: string;

  @ApiProperty({ example: 'Europe/Helsinki' })
  @IsString()
  @MaxLength(MAX_ZONE_CHARS)
  @IsTimeZone(isZone)
  zone: string;

  @ApiProperty({ enum: CONDITIONS })
  @IsIn(CONDITIONS)
  condition: Condition;

  @ApiPropertyOptional({ description: 'Private note; never sent' })
  @IsOptional()
  @IsString()
  @MaxLength(MESSAGE_LIMITS.maxNoteChars)
  note = '';

  @ApiPropertyOptional({ description: 'Also notify by email' })
  @IsOptional()
  @IsBoolean()
  byEmail = false;
}

/** What a message, or what begins one, carries. */
export const DraftFiles = () =>
  applyDecorators(
    ApiPropertyOptional({ type: [DraftFileDto], description: 'Files that travel with it' }),
    IsOptional(),
    IsArray(),
    ArrayMaxSize(FILE_LIMITS.maxFilesPerMessage, {
      message: `One message can carry at most ${FILE_LIMITS.maxFilesPerMessage} files`,
    }),
    ValidateNested({ each: true }),
    Type(() => DraftFileDto),
  );

export class StepDto implements DraftStep {
  @ApiProperty({ description: 'The template that the message is made from' })
  @IsInt()
  templateId: number;

  @ApiProperty({ enum: STEP_CONDITIONS })
  @IsIn(STEP_CONDITIONS)
  condition: StepCondition;

  @ApiProperty({ description: 'Since the message before it' })
  @IsInt()
  @Min(1)
  @Max(PLAN_LIMITS.maxWorkingDays, { message: `At most ${PLAN_LIMITS.maxWorkingDays} working days` })
  workingDays: number;

  @ApiPropertyOptional({ example: '09:30', description: 'Null: when they are most likely to read' })
  @IsOptional()
  @Matches(/^([01]\d|2[0-3]):[0-5]\d$/, { message: 'A time of day looks like 09:30' })
  time: string | null = null;
}

export class PlanDto implements DraftPlan {
  @ApiProperty({ example: 'Europe/Helsinki' })
  @IsString()
  @MaxLength(MAX_ZONE_CHARS)
  @IsTimeZone(isZone)
  zone: string;

  @ApiProperty({ type: [StepDto] })
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(PLAN_LIMITS.maxSteps, { message: `At most ${PLAN_LIMITS.maxSteps} follow-ups are possible` })
  @ValidateNested({ each: true })
  @Type(() => StepDto)
  steps: StepDto[];
}

/** A subject line. */
export const Subject = () =>
  applyDecorators(
    ApiProperty({ example: 'Panels for the reading room' }),
    IsString(),
    MaxLength(MESSAGE_LIMITS.maxSubjectChars, {
      message: `The subject is longer than ${MESSAGE_LIMITS.maxSubjectChars} characters`,
    }),
    Matches(HEADER_TEXT, { message: 'The subject must be a single line without invisible characters' }),
  );

/** A body as the editor wrote it. */
export const Html = () =>
  applyDecorators(
    ApiProperty({ description: 'The body as HTML' }),
    IsString(),
    MaxLength(MESSAGE_LIMITS.maxHtmlChars, {
      message: 'The message is longer than two million characters. Shorten it',
    }),
  );

/** What a message, or a round of them, has besides its text and its recipients. */
export class MessageOptionsDto implements RoundContent {
  @ApiProperty()
  @IsBoolean()
  trackOpens: boolean;

  @ApiProperty()
  @IsBoolean()
  trackClicks: boolean;

  @ApiPropertyOptional({ description: 'Tell recipients about tracking, with a page to opt out' })
  @IsOptional()
  @IsBoolean()
  disclose = false;

  @ApiPropertyOptional({ description: 'Private note; never sent' })
  @IsOptional()
  @IsString()
  @MaxLength(MESSAGE_LIMITS.maxNoteChars, {
    message: `A note can have at most ${MESSAGE_LIMITS.maxNoteChars} characters`,
  })
  note = '';

  @ApiPropertyOptional({ description: 'The template it came from' })
  @IsOptional()
  @IsInt()
  templateId: number | null = null;

  @ApiPropertyOptional({ type: ReminderDto, description: 'Its reminder' })
  @IsOptional()
  @ValidateNested()
  @Type(() => ReminderDto)
  reminder: ReminderDto | null = null;

  @ApiPropertyOptional({ type: PlanDto, description: 'Its automatic follow-ups' })
  @IsOptional()
  @ValidateNested()
  @Type(() => PlanDto)
  plan: PlanDto | null = null;

  @DraftFiles() files: DraftFileDto[] = [];
}

export class DraftDto extends MessageOptionsDto implements DraftContent {
  @ApiProperty({ type: [RecipientDto] })
  @IsArray()
  @ArrayMaxSize(MESSAGE_LIMITS.maxRecipients, {
    message: `One message can go to at most ${MESSAGE_LIMITS.maxRecipients} recipients. Divide the list`,
  })
  @ValidateNested({ each: true })
  @Type(() => RecipientDto)
  recipients: RecipientDto[];

  @Subject() subject: string;

  @Html() html: string;

  @ApiPropertyOptional({ description: 'Ask the mail servers for a delivery receipt (RFC 3461)' })
  @IsOptional()
  @IsBoolean()
  requestDsn = false;

  @ApiPropertyOptional({ description: 'Ask the recipient’s program for a read receipt (RFC 8098)' })
  @IsOptional()
  @IsBoolean()
  requestMdn = false;

  @ApiPropertyOptional({ description: 'For how many days its activity counts; null as in the settings' })
  @IsOptional()
  @IsInt()
  @Min(1)
  @Max(MESSAGE_LIMITS.maxTrackForDays)
  trackForDays: number | null = null;

  @ApiPropertyOptional({ description: 'Message-IDs of the conversation that it goes on with, oldest first' })
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(MESSAGE_LIMITS.maxConversationIds)
  @Matches(MESSAGE_ID, { each: true, message: 'A Message-ID looks like <left@right>' })
  conversation: string[] = [];
}

export class RevisionDto {
  @ApiProperty({ description: 'The revision that this change starts from' })
  @IsInt()
  @Min(1)
  revision: number;
}

export class SaveDraftDto extends DraftDto implements SaveDraftRequest {
  @ApiProperty({ description: 'The revision that this change starts from' })
  @IsInt()
  @Min(1)
  revision: number;
}
