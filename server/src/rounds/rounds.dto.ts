import { ApiProperty } from '@nestjs/swagger';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  ArrayUnique,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsNumber,
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
  PACE_KINDS,
  ROUND_LIMITS,
  type AddRoundRequest,
  type LeaveOutRequest,
  type RoundPace,
  type RoundRecipient,
  type RoundRecipients,
  type SaveRoundRequest,
  type Wording,
} from '@kiraku/core/contract';
import { DAY_HOURS } from '@kiraku/core/time';
import { Html, MailboxDto, MessageOptionsDto, Subject } from '../messages/drafts.dto.js';

const WEEKDAYS = [0, 1, 2, 3, 4, 5, 6];
const isZone = { message: 'There is no such time zone' };
const tooMany = { message: `A round goes to at most ${ROUND_LIMITS.maxPeople} people. Begin another for the rest` };
/** What can stand between {{ and }}. */
const COLUMN_NAME = /^[^{}|:]{1,60}$/;

class RoundRecipientDto extends MailboxDto implements RoundRecipient {
  @ApiProperty({ type: [String], description: 'What else is known of them, one for each column' })
  @IsArray()
  @ArrayMaxSize(ROUND_LIMITS.maxColumns)
  @IsString({ each: true })
  @MaxLength(ROUND_LIMITS.maxCellChars, { each: true })
  cells: string[];
}

export class RoundRecipientsDto implements RoundRecipients {
  @ApiProperty({ type: [String], description: 'What the columns are called: placeholders take these names' })
  @IsArray()
  @ArrayMaxSize(ROUND_LIMITS.maxColumns)
  @Matches(COLUMN_NAME, { each: true, message: 'A column is named by up to 60 characters, none of them { } | or :' })
  columns: string[];

  @ApiProperty({ type: [RoundRecipientDto] })
  @IsArray()
  @ArrayMaxSize(ROUND_LIMITS.maxPeople, tooMany)
  @ValidateNested({ each: true })
  @Type(() => RoundRecipientDto)
  recipients: RoundRecipientDto[];
}

export class AddRoundDto extends RoundRecipientsDto implements AddRoundRequest {
  @ApiProperty({ description: 'Empty: it is called as its subject' })
  @IsString()
  @MaxLength(ROUND_LIMITS.maxNameChars)
  name: string;

  @ApiProperty({
    type: Number,
    nullable: true,
    description: 'The draft whose text and recipients it takes over; the draft is deleted',
  })
  @IsOptional()
  @IsInt()
  draftId: number | null;

  @ApiProperty({ type: [Number], description: 'People to whom it goes' })
  @IsArray()
  @ArrayMaxSize(ROUND_LIMITS.maxPeople, tooMany)
  @IsInt({ each: true })
  personIds: number[];

  @ApiProperty({
    example: 'Europe/Helsinki',
    description: 'By whose clocks it leaves where a recipient’s are not known',
  })
  @IsTimeZone(isZone)
  zone: string;
}

class WordingDto implements Wording {
  @Subject() subject: string;
  @Html() html: string;
}

class RoundPaceDto implements RoundPace {
  @ApiProperty({ enum: PACE_KINDS })
  @IsIn(PACE_KINDS)
  kind: RoundPace['kind'];

  @ApiProperty()
  @IsInt({ message: 'Say a whole number of messages an hour' })
  @Min(1, { message: 'Say 1 or more messages an hour' })
  @Max(ROUND_LIMITS.maxPerHour, { message: `At most ${ROUND_LIMITS.maxPerHour} messages an hour are possible` })
  perHour: number;

  @ApiProperty()
  @IsInt()
  @Min(0)
  @Max(DAY_HOURS)
  fromHour: number;

  @ApiProperty()
  @IsInt()
  @Min(0)
  @Max(DAY_HOURS)
  toHour: number;

  @ApiProperty({ type: [Number], description: 'On which weekdays, from Monday (0)' })
  @IsArray()
  @ArrayMaxSize(WEEKDAYS.length)
  @ArrayUnique()
  @IsIn(WEEKDAYS, { each: true, message: 'Weekdays count from 0, Monday, to 6, Sunday' })
  weekdays: number[];

  @ApiProperty({ example: 'Europe/Helsinki' })
  @IsTimeZone(isZone)
  zone: string;
}

export class SaveRoundDto extends MessageOptionsDto implements SaveRoundRequest {
  @ApiProperty({ example: 'Quieter cafés, November' })
  @IsString()
  @MaxLength(ROUND_LIMITS.maxNameChars, { message: `At most ${ROUND_LIMITS.maxNameChars} characters` })
  name: string;

  @ApiProperty({ type: [WordingDto] })
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(ROUND_LIMITS.maxWordings, { message: `At most ${ROUND_LIMITS.maxWordings} wordings can be compared` })
  @ValidateNested({ each: true })
  @Type(() => WordingDto)
  wordings: WordingDto[];

  @ApiProperty({ type: RoundPaceDto })
  @ValidateNested()
  @Type(() => RoundPaceDto)
  pace: RoundPaceDto;

  @ApiProperty({ description: 'Who was written to within so many days is pointed out' })
  @IsInt()
  @Min(0)
  @Max(ROUND_LIMITS.maxRecentDays)
  recentDays: number;

  @ApiProperty({
    type: Number,
    nullable: true,
    description: 'From which probability on the rest gets the better wording; null for never',
  })
  @IsOptional()
  @IsNumber()
  @Min(0.8, { message: 'Choose 80 % or more' })
  @Max(0.999, { message: 'Choose less than 100 %' })
  decideAt: number | null;

  @ApiProperty({ description: 'The revision that this change starts from' })
  @IsInt()
  @Min(1)
  revision: number;
}

export class LeaveOutDto implements LeaveOutRequest {
  @ApiProperty({ type: [Number], description: 'Their messages' })
  @IsArray()
  @ArrayMaxSize(ROUND_LIMITS.maxPeople)
  @IsInt({ each: true })
  messageIds: number[];

  @ApiProperty()
  @IsBoolean()
  leftOut: boolean;
}

export class RestDto {
  @ApiProperty({ description: 'The wording that those who wait get, from 0' })
  @IsInt()
  @Min(0)
  wording: number;
}
