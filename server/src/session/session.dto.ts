import { ApiProperty } from '@nestjs/swagger';
import { Type } from 'class-transformer';
import { IsString, Length, MaxLength, ValidateNested } from 'class-validator';
import type { PassphraseRequest, SetUpRequest } from '@kiraku/core/contract';
import { AccountDto } from '../settings/account.dto.js';
import { GuessQuery } from '../settings/guess.controller.js';

import { MIN_PASSPHRASE_CHARS } from './passphraseStrength.js';

export const MAX_PASSPHRASE_CHARS = 1000;
export const LENGTH_WORDS = { message: 'The passphrase must have at least 8 characters; three or four words are good' };

export class SignInDto {
  @ApiProperty({ example: 'felt and reed' })
  @IsString()
  @MaxLength(MAX_PASSPHRASE_CHARS)
  passphrase: string;
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

export class SetUpGuessDto extends GuessQuery {
  @ApiProperty({ description: 'The code in the address that was printed at the first start' })
  @IsString()
  @MaxLength(100)
  code: string;
}

export class SetUpDto implements SetUpRequest {
  @ApiProperty({ description: 'The code in the address that was printed at the first start' })
  @IsString()
  @MaxLength(100)
  code: string;

  @ApiProperty({ minLength: MIN_PASSPHRASE_CHARS })
  @IsString()
  @Length(MIN_PASSPHRASE_CHARS, MAX_PASSPHRASE_CHARS, LENGTH_WORDS)
  passphrase: string;

  @ApiProperty({ type: AccountDto })
  @ValidateNested()
  @Type(() => AccountDto)
  account: AccountDto;
}
