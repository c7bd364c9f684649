import { Controller, Delete, Get, Header, HttpCode, Param, ParseIntPipe } from '@nestjs/common';
import { ApiOperation, ApiTags } from '@nestjs/swagger';
import type { PersonData } from '@kiraku/core/contract';
import { personDataText } from '@kiraku/core/sentences';
import { notFound } from '../http/problem.js';
import { Sends } from '../http/sends.js';
import { PersonDataService } from './personData.service.js';

@ApiTags('people')
@Controller('api/people')
export class PersonDataController {
  constructor(private readonly data: PersonDataService) {}

  @Get(':id/data.json')
  @Header('Content-Disposition', 'attachment; filename="person.json"')
  @ApiOperation({ summary: 'Everything that is known of one person' })
  json(@Param('id', ParseIntPipe) id: number): PersonData {
    return this.find(id);
  }

  @Get(':id/data.txt')
  @Header('Content-Disposition', 'attachment; filename="person.txt"')
  @Sends('text/plain; charset=utf-8')
  @ApiOperation({ summary: 'Everything that is known of one person, to read' })
  text(@Param('id', ParseIntPipe) id: number): string {
    return personDataText(this.find(id));
  }

  @Get(':id')
  @ApiOperation({ summary: 'One person' })
  person(@Param('id', ParseIntPipe) id: number): PersonData['person'] {
    const person = this.data.person(id);
    if (!person) throw notFound('person');
    return person;
  }

  @Delete(':id')
  @HttpCode(204)
  @ApiOperation({ summary: 'Erase one person: messages to them alone, and their activity on all others' })
  erase(@Param('id', ParseIntPipe) id: number): void {
    if (!this.data.erase(id)) throw notFound('person');
  }

  private find(id: number): PersonData {
    const found = this.data.read(id);
    if (!found) throw notFound('person');
    return found;
  }
}
