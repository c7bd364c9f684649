import { Controller, Get, Query, Req, Res } from '@nestjs/common';
import { ApiOperation, ApiPropertyOptional, ApiTags } from '@nestjs/swagger';
import { IsOptional, IsString, MaxLength } from 'class-validator';
import type { Request, Response } from 'express';
import { SECOND } from '@kiraku/core/time';
import { sessionToken } from '../http/cookies.js';
import { SessionService } from '../session/session.service.js';
import { SendsItself } from '../http/sends.js';
import { LiveService } from './live.service.js';

/** Proxies close what is silent for long, and a window that hears no beat knows that its connection is gone. */
const HEARTBEAT_MS = 20 * SECOND;
const LIVE_RETRY_MS = SECOND;

class LiveQuery {
  @ApiPropertyOptional({ description: 'The id of the last push that was taken, where no Last-Event-ID can be sent' })
  @IsOptional()
  @IsString()
  @MaxLength(40)
  after?: string;
}

@ApiTags('live')
@Controller('api/live')
export class LiveController {
  constructor(
    private readonly live: LiveService,
    private readonly sessions: SessionService,
  ) {}

  /** Server-sent events (HTML standard, section 9.2): resumes after Last-Event-ID. */
  @Get()
  @SendsItself('text/event-stream')
  @ApiOperation({ summary: 'The live stream, as text/event-stream: each push a LiveUpdate' })
  stream(@Query() query: LiveQuery, @Req() request: Request, @Res() response: Response): void {
    response.writeHead(200, {
      'Content-Type': 'text/event-stream',
      'Cache-Control': 'no-store',
      'X-Accel-Buffering': 'no',
    });
    response.write(`retry: ${LIVE_RETRY_MS}\n\n`);
    const after = request.headers['last-event-id'] ?? query.after;
    const subscription = this.live.subscribe(typeof after === 'string' ? after : undefined, {
      isReady: () => !response.writableNeedDrain,
      send: (cursor, update) => response.write(`id: ${cursor}\ndata: ${JSON.stringify(update)}\n\n`),
    });
    const token = sessionToken(request);
    const endIfOver = () => !this.sessions.isOpen(token) && response.end();
    const endings = this.sessions.ended.subscribe(endIfOver);
    const heartbeat = setInterval(() => {
      // A session can also end by its time.
      if (!endIfOver()) response.write('event: beat\ndata: .\n\n');
    }, HEARTBEAT_MS);
    response.on('close', () => {
      clearInterval(heartbeat);
      endings.unsubscribe();
      subscription.unsubscribe();
    });
  }
}
