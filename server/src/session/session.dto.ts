import { ApiProperty, ApiPropertyOptional, IntersectionType, PartialType } from '@nestjs/swagger';
import { Type } from 'class-transformer';
import { IsIn, IsOptional, IsString, Length, MaxLength, ValidateIf, ValidateNested } from 'class-validator';
import {
  SET_UP_STEPS,
  type PassphraseRequest,
  type SetUpProgress,
  type SetUpRequest,
  type SetUpStep,
  type SignInRequest,
} from '@kiraku/core/contract';
import { OutgoingServerDto, SenderDto } from '../settings/account.dto.js';

import { MIN_PASSPHRASE_CHARS } from './passphraseStrength.js';

export const MAX_PASSPHRASE_CHARS = 1000;
const MAX_CODE_CHARS = 40;
export const LENGTH_WORDS = { message: 'The passphrase must have at least 8 characters; three or four words are good' };

export class SignInDto implements SignInRequest {
  @ApiProperty({ example: 'felt and reed' })
  @IsString()
  @MaxLength(MAX_PASSPHRASE_CHARS)
  passphrase: string;

  @ApiPropertyOptional({ description: 'Where codes are in use: the one that the phone shows, or a recovery code' })
  @IsOptional()
  @IsString()
  @MaxLength(MAX_CODE_CHARS)
  code?: string;
}

export class ConfirmDto {
  @ApiProperty({ description: 'The passphrase, once more' })
  @IsString()
  @MaxLength(MAX_PASSPHRASE_CHARS)
  passphrase: string;
}

export class CodeDto {
  @ApiProperty({ example: '123456', description: 'The code that the phone shows' })
  @IsString()
  @MaxLength(MAX_CODE_CHARS)
  code: string;
}

export class PassphraseDto implements PassphraseRequest {
  @ApiProperty({ description: 'The passphrase that holds now' })
  @IsString()
  @MaxLength(MAX_PASSPHRASE_CHARS)
  current: string;

  @ApiProperty({ minLength: MIN_PASSPHRASE_CHARS })
  @IsString()
  @Length(MIN_PASSPHRASE_CHARS, MAX_PASSPHRASE_CHARS, LENGTH_WORDS)
  next: string;
}

/** Who sends; how their mail goes out can be said later. */
export class FirstAccountDto extends IntersectionType(SenderDto, PartialType(OutgoingServerDto)) {}

export class SetUpDto implements SetUpRequest {
  @ApiProperty({ description: 'The code in the address that was printed at the first start' })
  @IsString()
  @MaxLength(100)
  code: string;

  @ApiProperty({ minLength: MIN_PASSPHRASE_CHARS })
  @IsString()
  @Length(MIN_PASSPHRASE_CHARS, MAX_PASSPHRASE_CHARS, LENGTH_WORDS)
  passphrase: string;

  @ApiProperty({ type: FirstAccountDto })
  @ValidateNested()
  @Type(() => FirstAccountDto)
  account: FirstAccountDto;
}

export class SetUpProgressDto implements SetUpProgress {
  @ApiProperty({ enum: SET_UP_STEPS, nullable: true, description: 'Where it goes on; null where it is over' })
  @ValidateIf((dto: SetUpProgressDto) => dto.step !== null)
  @IsIn(SET_UP_STEPS)
  step: SetUpStep | null;
}
