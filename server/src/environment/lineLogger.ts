import type { LoggerService } from '@nestjs/common';
import { log, type LogLevel } from './log.js';

/** What the framework and all that logs by it say, a line each. What only tells that all goes on is not written. */
export class LineLogger implements LoggerService {
  log(): void {}

  warn(message: unknown, ...more: unknown[]): void {
    this.write('warning', message, more);
  }

  error(message: unknown, ...more: unknown[]): void {
    this.write('error', message, more);
  }

  fatal(message: unknown, ...more: unknown[]): void {
    this.write('error', message, more);
  }

  /** The framework gives who says it last, and before that a stack. */
  private write(level: LogLevel, message: unknown, more: unknown[]): void {
    const [from = 'Kiraku', ...details] = [...more].reverse().map(String);
    const text = message instanceof Error ? (message.stack ?? message.message) : String(message);
    log(level, from, [text, ...details.reverse()].filter((part) => part !== 'undefined').join('\n'));
  }
}
