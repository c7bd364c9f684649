import { Body, Controller, HttpCode, Put } from '@nestjs/common';
import { ApiOperation, ApiProperty, ApiTags } from '@nestjs/swagger';
import { IsBoolean, IsIn } from 'class-validator';
import {
  CLOCKS,
  DATE_ORDERS,
  FIRST_DAYS,
  type Clock,
  type DateOrder,
  type FirstDay,
  type TimeFormatView,
} from '@kiraku/core/contract';
import { TimeFormatSettings } from './timeFormat.settings.js';

class TimeFormatDto implements TimeFormatView {
  @ApiProperty({ enum: CLOCKS })
  @IsIn(CLOCKS)
  clock: Clock;

  @ApiProperty({ enum: DATE_ORDERS })
  @IsIn(DATE_ORDERS)
  dateOrder: DateOrder;

  @ApiProperty({ enum: FIRST_DAYS, description: '0 is Sunday, 1 Monday, 6 Saturday' })
  @IsIn(FIRST_DAYS)
  firstDay: FirstDay;

  @ApiProperty({ description: 'Whether the user chose it; else it is that of the browser' })
  @IsBoolean()
  isChosen: boolean;
}

@ApiTags('settings')
@Controller('api/settings/time-format')
export class TimeFormatController {
  constructor(private readonly settings: TimeFormatSettings) {}

  @Put()
  @HttpCode(204)
  @ApiOperation({ summary: 'Change how times and dates are written, also in emails to the user' })
  save(@Body() dto: TimeFormatDto): void {
    this.settings.save(dto);
  }
}
