import { ApiProperty } from '@nestjs/swagger';
import { Type } from 'class-transformer';
import { IsString, Length, MaxLength, ValidateNested } from 'class-validator';
import { AccountDto } from '../settings/account.dto.js';

export class SignInDto {
  @ApiProperty({ example: 'felt and reed' })
  @IsString()
  @MaxLength(1000)
  passphrase: string;
}

export class SetUpDto {
  @ApiProperty({ description: 'The code in the address that was printed at the first start' })
  @IsString()
  @MaxLength(100)
  code: string;

  @ApiProperty({ minLength: 8 })
  @IsString()
  @Length(8, 1000, { message: 'The passphrase must have at least 8 characters; three or four words are good' })
  passphrase: string;

  @ApiProperty({ type: AccountDto })
  @ValidateNested()
  @Type(() => AccountDto)
  account: AccountDto;
}
